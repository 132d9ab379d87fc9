import { CloseOutlined, DownOutlined, UpOutlined } from "@ant-design/icons";
import classNames from "classnames/bind";
import { Button, Popconfirm, Switch } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import type { ParameterNode } from "../../state/document";
import { edit, here, restructure } from "../../state/model";
import { format } from "../../ui/format";
import { Message } from "../../ui/Message";
import { TextField } from "../../ui/TextField";
import { typedOver } from "../../ui/typedUnit";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

interface Props {
  name: string;
  node: ParameterNode;
  view: Schemas["ParameterView"] | undefined;
  problem: string | null;
  /** Where the name is spoken of; empty where nowhere. */
  users: readonly string[];
}

/** Choices as they are typed: what each is called and its value, with semicolons between. */
const choicesText = (choices: ParameterNode["choices"]) => (choices ?? []).map((c) => `${c.name} = ${c.value}`).join("; ");

/** What was typed as choices; one without a name is called by its value. */
const choicesOf = (text: string) =>
  text
    .split(";")
    .map((t) => t.trim())
    .filter(Boolean)
    .map((t) => {
      const cut = t.indexOf("=");
      const value = t.slice(cut + 1).trim();
      return { name: cut < 0 ? value : t.slice(0, cut).trim(), value };
    });

/** A named parameter of a level: its value, and on demand all that its face says of it. */
export function FaceRow({ name, node, view, problem, users }: Props) {
  const [open, setOpen] = useState(false);
  const set = (what: keyof ParameterNode, value: unknown) =>
    edit(`Change ${name}`, [
      value === undefined || value === ""
        ? { op: "remove", path: here("parameters", name, what) }
        : { op: "add", path: here("parameters", name, what), value },
    ]);
  const texts: [what: "description" | "unit" | "minimum" | "maximum" | "group" | "shownWhen", label: string, placeholder: string][] = [
    ["description", "Prompt", "what it is, as its user reads it"],
    ["unit", "Unit", "comes with the value"],
    ["minimum", "At least", "no limit"],
    ["maximum", "At most", "no limit"],
    ["group", "Heading", "none"],
    ["shownWhen", "Asked when", "always"],
  ];
  const removal = users.length === 0 ? null : `${users.slice(0, 3).join(", ")}${users.length > 3 ? " …" : ""} would no longer know it.`;
  const remove = () => edit(`Remove ${name}`, [{ op: "remove", path: here("parameters", name) }]);
  const cross = (onClick?: () => void) => (
    <Button type="text" size="small" icon={<CloseOutlined />} aria-label={`Remove ${name}`} onClick={onClick} />
  );
  const isSwitch = node.value === "true" || node.value === "false";
  const isExpression = !isSwitch && !Number.isFinite(Number(node.value)) && !/^[-\d.e]+ /i.test(node.value);
  return (
    <div className={cx("row", { bad: problem })}>
      <label htmlFor={`model-${name}`} title={node.description ?? undefined}>
        <span className="mono">{name}</span> {node.description}
        {node.isDerived && <small> follows from others</small>}
      </label>
      {isSwitch ? (
        <Switch
          id={`model-${name}`}
          size="small"
          aria-label={`${name} ${node.description ?? ""}`}
          checked={node.value === "true"}
          onChange={(on) => edit(`Set ${name}`, [{ op: "replace", path: here("parameters", name, "value"), value: String(on) }])}
        />
      ) : (
        <TextField
          id={`model-${name}`}
          label={`${name} ${node.description ?? ""}`}
          value={node.value}
          invalid={!!problem}
          commit={(t) => edit(`Set ${name}`, [{ op: "replace", path: here("parameters", name, "value"), value: typedOver(node.value, t) }])}
        />
      )}
      <span className={cx("row-buttons")}>
        <Button
          type="text"
          size="small"
          icon={open ? <UpOutlined /> : <DownOutlined />}
          aria-label={`Prompt, unit and limits of ${name}`}
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        />
        {removal ? (
          <Popconfirm title={`Remove ${name}?`} description={removal} okText="Remove" cancelText="Keep" onConfirm={remove}>
            {cross()}
          </Popconfirm>
        ) : (
          cross(remove)
        )}
      </span>
      {problem && <Message bad>{problem}</Message>}
      {!problem && typeof view?.value === "number" && isExpression && (
        <Message>
          = {format(view.value, 5)} {view.unit}
        </Message>
      )}
      {open && (
        <div className={cx("face-details")}>
          <label htmlFor={`face-${name}-name`}>Name</label>
          <TextField
            id={`face-${name}-name`}
            label={`Name of ${name}`}
            value={name}
            commit={(to) => void restructure({ kind: "renameParameter", name, to })}
          />
          {texts.map(([what, label, placeholder]) => (
            <span key={what} className={cx("face-detail")}>
              <label htmlFor={`face-${name}-${what}`}>{label}</label>
              <TextField
                id={`face-${name}-${what}`}
                label={`${label} of ${name}`}
                value={node[what] ?? ""}
                placeholder={placeholder}
                prose={what === "description" || what === "group"}
                commit={(t) => set(what, t)}
                onEmpty={() => set(what, undefined)}
              />
            </span>
          ))}
          <label htmlFor={`face-${name}-choices`}>Choices</label>
          <TextField
            id={`face-${name}-choices`}
            label={`Choices of ${name}`}
            value={choicesText(node.choices)}
            placeholder="small = 8 cm3/rev; large = 28 cm3/rev"
            commit={(t) => set("choices", choicesOf(t))}
            onEmpty={() => set("choices", undefined)}
          />
          <label htmlFor={`face-${name}-derived`}>Follows from others</label>
          <Switch
            id={`face-${name}-derived`}
            size="small"
            aria-label={`${name} follows from others and is not asked`}
            checked={node.isDerived ?? false}
            onChange={(on) => set("isDerived", on)}
          />
          <p className="quiet">{users.length === 0 ? "Nothing speaks of it." : `Used by ${users.join(", ")}.`}</p>
        </div>
      )}
    </div>
  );
}
