import classNames from "classnames/bind";
import { Button, Select } from "antd";
import { useBench } from "../../../state/bench";
import { removeChosen, setName } from "../../../state/charts";
import type { Chart, ChartName } from "../../../state/document";
import { restructure } from "../../../state/model";
import { TextField } from "../../../ui/TextField";
import { KINDS } from "./ChartPanel";
import styles from "./chart.module.css";

const cx = classNames.bind(styles);

const TYPES = ["Real", "Integer", "Boolean"];

/** A name of a chart: what it is, its type, where it begins. */
export function NamePanel({ id }: { id: string }) {
  const chart = useBench((s) => s.chart as Chart);
  const name = chart.names[id] as ChartName;
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
      <p className={cx("sub")}>{KINDS.find((k) => k.kind === name.kind)?.one} of the chart</p>
      <div className={cx("row")}>
        <label>It is</label>
        <Select
          size="small"
          aria-label="What the name is"
          value={name.kind}
          options={KINDS.map((k) => ({ value: k.kind, label: k.one.toLowerCase() }))}
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
          <label>{name.kind === "parameter" ? "Value" : "At the start"}</label>
          <TextField
            label={name.kind === "parameter" ? "Value" : "At the start"}
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
        <Button size="small" onClick={removeChosen}>
          Delete
        </Button>
      </div>
    </>
  );
}
