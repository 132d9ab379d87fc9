import classNames from "classnames/bind";
import { EllipsisOutlined } from "@ant-design/icons";
import { Button, Dropdown, Input, Tag } from "antd";
import { useEffect, useRef, useState } from "react";
import { LevelOutline } from "../../canvas/LevelOutline";
import { useCard } from "./cards";
import { CardCurve } from "./CardCurve";
import { since, type Entry } from "./shelf";
import { Verdicts } from "./Verdicts";
import styles from "./start.module.css";

const cx = classNames.bind(styles);

export type RowAction = "rename" | "duplicate" | "place" | "export" | "trash" | "restore" | "delete";

interface Props {
  model: Entry;
  /** Told when its card says more than the list knows. */
  onCard: () => void;
  onAction: (action: RowAction, model: Entry, name?: string) => void;
}

const actions: { key: RowAction; label: string }[] = [
  { key: "rename", label: "Rename" },
  { key: "duplicate", label: "Duplicate" },
  { key: "place", label: "Folder and tags …" },
  { key: "export", label: "Save as a file" },
  { key: "trash", label: "Put into the trash" },
];

const trashed: typeof actions = [
  { key: "restore", label: "Take out of the trash" },
  { key: "delete", label: "Delete for good" },
];

/** A model of the list: its top level drawn small, what it does, and how it stands. */
export function ShelfRow({ model, onCard, onAction }: Props) {
  const row = useRef<HTMLLIElement>(null);
  const card = useCard(row, { model: model.id, revision: model.revision });
  const isNews = model.domains.length === 0 && (card?.domains.length ?? 0) > 0;
  useEffect(() => {
    if (isNews) onCard();
  }, [isNews, onCard]);
  const [renaming, setRenaming] = useState(false);
  const said = [
    `changed ${since(model.changed)}${model.author && ` by ${model.author}`}`,
    `revision ${model.revision}`,
    model.runs > 0 && `${model.runs} kept ${model.runs === 1 ? "run" : "runs"}`,
  ];
  const rename = (name: string) => {
    setRenaming(false);
    if (name.trim() && name.trim() !== model.name) onAction("rename", model, name.trim());
  };
  return (
    <li ref={row} className={cx("row")}>
      <div className={cx("thumb")}>{card?.picture && <LevelOutline picture={card.picture} views={card.views} />}</div>
      <div className={cx("words")}>
        {renaming ? (
          <Input
            size="small"
            autoFocus
            aria-label="Name of the model"
            defaultValue={model.name}
            onFocus={(e) => e.target.select()}
            onBlur={(e) => rename(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === "Enter") rename(e.currentTarget.value);
              if (e.key === "Escape") setRenaming(false);
              e.stopPropagation();
            }}
          />
        ) : model.trashed ? (
          <b>{model.name}</b>
        ) : (
          <a href={`#/models/${model.id}`} className={cx("name")} data-way>
            {model.name}
          </a>
        )}
        <p title={card?.description ?? undefined}>{card?.description ?? (card ? `${card.parts} parts` : "")}</p>
        <p className="quiet">{said.filter(Boolean).join(", ")}</p>
      </div>
      <div className={cx("course")}>{card?.course && <CardCurve course={card.course} />}</div>
      <div className={cx("state")}>
        {card && <Verdicts verdicts={card.verdicts} />}
        {card?.problem && (
          <p className="quiet" title={card.problem}>
            {card.problem}
          </p>
        )}
        {model.studies.map((s, i) => (
          <p key={i} className="quiet">
            {s.name}: <b className="mono">{s.done}</b> of {s.rows}
            {s.state !== "finished" && `, ${s.state}`}
          </p>
        ))}
        {model.tags.length > 0 && (
          <p className={cx("tags")}>
            {model.tags.map((t) => (
              <Tag key={t}>{t}</Tag>
            ))}
          </p>
        )}
      </div>
      <Dropdown
        trigger={["click"]}
        menu={{
          items: model.trashed ? trashed : actions,
          onClick: ({ key, domEvent }) => {
            domEvent.stopPropagation();
            if (key === "rename") setRenaming(true);
            else onAction(key as RowAction, model);
          },
        }}
      >
        <Button type="text" size="small" icon={<EllipsisOutlined />} aria-label={`What can be done with ${model.name}`} />
      </Dropdown>
    </li>
  );
}
