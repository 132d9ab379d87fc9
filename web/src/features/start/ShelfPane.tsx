import classNames from "classnames/bind";
import { DeleteOutlined, FolderOutlined, InboxOutlined, PlusOutlined, TagOutlined } from "@ant-design/icons";
import { Button, Dropdown, Input, Popconfirm, Upload } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { domainColor } from "../../ui/tokens";
import { counts, isIn } from "./shelf";
import styles from "./start.module.css";

const cx = classNames.bind(styles);

interface Props {
  shelf: Schemas["ShelfView"];
  folder: string;
  tag: string;
  domain: string;
  inTrash: boolean;
  onFolder: (folder: string) => void;
  onTag: (tag: string) => void;
  onDomain: (domain: string) => void;
  onTrash: () => void;
  onEmpty: () => void;
  onMake: (path: string) => void;
  onMove: (from: string, to: string) => void;
  onRemove: (path: string) => void;
  onFile: (file: File) => void;
}

/** Folders, tags and domains to choose by; where files are dropped; the trash. */
export function ShelfPane(props: Props) {
  const { shelf, folder, tag, domain, inTrash } = props;
  const [naming, setNaming] = useState<{ from: string | null } | null>(null);
  const { models } = shelf;
  const made = (name: string) => {
    const at = naming?.from ?? null;
    setNaming(null);
    const wanted = name.trim().replaceAll("/", " ");
    if (!wanted) return;
    if (at === null) props.onMake(folder ? `${folder}/${wanted}` : wanted);
    else props.onMove(at, [...at.split("/").slice(0, -1), wanted].join("/"));
  };
  const field = (value: string) => (
    <Input
      size="small"
      autoFocus
      aria-label="Name of the folder"
      defaultValue={value}
      onFocus={(e) => e.target.select()}
      onBlur={(e) => made(e.target.value)}
      onKeyDown={(e) => {
        if (e.key === "Enter") made(e.currentTarget.value);
        if (e.key === "Escape") setNaming(null);
        e.stopPropagation();
      }}
    />
  );
  return (
    <aside className={cx("shelf")} aria-label="Folders, tags and trash">
      <h3>
        Folders
        <Button
          type="text"
          size="small"
          icon={<PlusOutlined />}
          aria-label={folder ? `New folder in ${folder}` : "New folder"}
          onClick={() => setNaming({ from: null })}
        />
      </h3>
      <ul>
        <li>
          <Choice on={!inTrash && folder === ""} onChoose={() => props.onFolder("")} icon={<InboxOutlined />} name="All models">
            {inTrash ? "" : models.length}
          </Choice>
        </li>
        {shelf.folders.map((f) => {
          const depth = f.split("/").length - 1;
          const name = f.slice(f.lastIndexOf("/") + 1);
          return (
            <li key={f} style={{ paddingLeft: 14 * depth }}>
              {naming?.from === f ? (
                field(name)
              ) : (
                <Dropdown
                  trigger={["contextMenu"]}
                  menu={{
                    items: [
                      { key: "rename", label: "Rename the folder" },
                      { key: "remove", label: "Remove the folder, keep its models" },
                    ],
                    onClick: ({ key }) => (key === "rename" ? setNaming({ from: f }) : props.onRemove(f)),
                  }}
                >
                  <div>
                    <Choice
                      on={!inTrash && folder === f}
                      onChoose={() => props.onFolder(f)}
                      onRename={() => setNaming({ from: f })}
                      onRemove={() => props.onRemove(f)}
                      icon={<FolderOutlined />}
                      name={name}
                    >
                      {inTrash ? "" : models.filter((m) => isIn(f, m)).length}
                    </Choice>
                  </div>
                </Dropdown>
              )}
            </li>
          );
        })}
        {naming?.from === null && <li>{field("")}</li>}
      </ul>
      {shelf.tags.length > 0 && (
        <>
          <h3>Tags</h3>
          <ul>
            {counts(models, (m) => m.tags).map(([t, n]) => (
              <li key={t}>
                <Choice on={tag === t} onChoose={() => props.onTag(tag === t ? "" : t)} icon={<TagOutlined />} name={t}>
                  {n}
                </Choice>
              </li>
            ))}
          </ul>
        </>
      )}
      <h3>Domains</h3>
      <ul>
        {counts(models, (m) => m.domains).map(([d, n]) => (
          <li key={d}>
            <Choice
              on={domain === d}
              onChoose={() => props.onDomain(domain === d ? "" : d)}
              icon={<i className={cx("dot")} style={{ background: domainColor(d) }} />}
              name={d}
            >
              {n}
            </Choice>
          </li>
        ))}
      </ul>
      <div className={cx("foot")}>
        <Upload.Dragger
          accept=".json,.mo"
          showUploadList={false}
          beforeUpload={(file) => {
            props.onFile(file);
            return false;
          }}
        >
          <b>Drop a file to import</b>
          <p>a model as JSON, or a text of the equation language</p>
        </Upload.Dragger>
        <div className={cx("trash")}>
          <Choice on={inTrash} onChoose={props.onTrash} icon={<DeleteOutlined />} name="Trash">
            {shelf.inTrash}
          </Choice>
          {inTrash && shelf.inTrash > 0 && (
            <Popconfirm title="Delete all of it for good?" okText="Delete for good" cancelText="Keep" onConfirm={props.onEmpty}>
              <Button size="small" type="text">
                Empty the trash
              </Button>
            </Popconfirm>
          )}
          <p className="quiet">kept for {shelf.trashDays} days</p>
        </div>
      </div>
    </aside>
  );
}

interface ChoiceProps {
  on: boolean;
  name: string;
  icon: React.ReactNode;
  children: React.ReactNode;
  onChoose: () => void;
  onRename?: () => void;
  onRemove?: () => void;
}

function Choice({ on, name, icon, children, onChoose, onRename, onRemove }: ChoiceProps) {
  return (
    <button
      type="button"
      className={cx("choice", { on })}
      aria-pressed={on}
      onClick={onChoose}
      onKeyDown={(e) => {
        if (e.key === "F2") onRename?.();
        if (e.key === "Delete") onRemove?.();
      }}
    >
      {icon}
      <span>{name}</span>
      <em>{children}</em>
    </button>
  );
}
