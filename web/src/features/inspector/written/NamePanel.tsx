import classNames from "classnames/bind";
import { Button, Select } from "antd";
import { useBench } from "../../../state/bench";
import type { ChartName, Written } from "../../../state/document";
import { restructure } from "../../../state/model";
import { removeName, setName, written } from "../../../state/names";
import { TextField } from "../../../ui/TextField";
import { kindsOf } from "./kinds";
import styles from "./written.module.css";

const cx = classNames.bind(styles);

const TYPES = ["Real", "Integer", "Boolean"];

/** What the value of a name is called that it has before anything gives it another. */
const startOf = (of: Written, name: ChartName) =>
  name.kind === "parameter" ? "Value" : of.kind === "decisions" ? "Otherwise" : "At the start";

/** A name of a chart or table: what it is, its type, where it begins. */
export function NamePanel({ id }: { id: string }) {
  const of = useBench((s) => written(s) as Written);
  const name = of.names[id] as ChartName;
  const change = (values: Partial<ChartName>) => setName(id, "Change a name", values);
  const isWords = name.type.startsWith("{");
  const isEvent = name.kind === "event" || name.kind === "signal";
  return (
    <>
      <TextField
        label="Name"
        title
        prose
        value={name.name}
        commit={(text) => void restructure({ kind: "renameName", name: id, to: text })}
      />
      <p className={cx("sub")}>{kindsOf(of).find((k) => k.kind === name.kind)?.one}</p>
      <div className={cx("row")}>
        <label>It is</label>
        <Select
          size="small"
          aria-label="What the name is"
          value={name.kind}
          options={kindsOf(of).map((k) => ({ value: k.kind, label: k.one.toLowerCase() }))}
          onChange={(kind) => change({ kind, ...(kind === "event" || kind === "signal" ? { type: "Boolean" } : {}) })}
        />
      </div>
      {!isEvent && (
        <div className={cx("row")}>
          <label>Type</label>
          <Select
            size="small"
            aria-label="Type"
            value={isWords ? "words" : name.type}
            options={[...TYPES.map((t) => ({ value: t, label: t })), { value: "words", label: "words" }]}
            onChange={(type) => change({ type: type === "words" ? "{first, second}" : type, start: undefined })}
          />
        </div>
      )}
      {isWords && (
        <div className={cx("row")}>
          <label>Words</label>
          <TextField
            label="Words"
            value={name.type.replace(/^\{|\}$/g, "")}
            commit={(text) => change({ type: `{${text.replace(/[{}]/g, "")}}` })}
          />
        </div>
      )}
      {name.type === "Real" && (
        <div className={cx("row")}>
          <label>Unit</label>
          <TextField
            label="Unit"
            value={name.unit ?? ""}
            placeholder="such as m/s"
            commit={(unit) => change({ unit })}
            onEmpty={() => change({ unit: undefined })}
          />
        </div>
      )}
      {name.kind !== "input" && !isEvent && (
        <div className={cx("row")}>
          <label>{startOf(of, name)}</label>
          <TextField
            label={startOf(of, name)}
            value={name.start ?? ""}
            placeholder={isWords ? "the first word" : name.type === "Boolean" ? "false" : "0"}
            commit={(start) => change({ start })}
            onEmpty={() => change({ start: undefined })}
          />
        </div>
      )}
      <div className={cx("row")}>
        <label>Description</label>
        <TextField
          label="Description"
          prose
          value={name.description ?? ""}
          commit={(description) => change({ description })}
          onEmpty={() => change({ description: undefined })}
        />
      </div>
      <div className={cx("buttons")}>
        <Button size="small" onClick={() => removeName(id)}>
          Delete
        </Button>
      </div>
    </>
  );
}
