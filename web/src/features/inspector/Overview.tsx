import classNames from "classnames/bind";
import { CloseOutlined } from "@ant-design/icons";
import { Button, Input } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { format } from "../../ui/format";
import { act } from "../../state/edits";
import { edit, goToPart, here } from "../../state/model";
import { useBench } from "../../state/bench";
import { FindingsList } from "../../ui/FindingsList";
import { Message } from "../../ui/Message";
import { TextField } from "../../ui/TextField";
import { typedOver } from "../../ui/typedUnit";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** The model itself: its parameters, its findings, its counts. */
export function Overview() {
  const { diagram, view } = useBench(useShallow((s) => ({ diagram: s.diagram, view: s.view })));
  const [name, setName] = useState("");
  const taken = name.trim() in diagram.parameters;
  const valid = /^[A-Za-z_]\w*$/.test(name.trim()) && !taken;
  const add = () => {
    if (!valid) return;
    edit("Add parameter", [{ op: "add", path: here("parameters", name.trim()), value: { value: "1" } }]);
    setName("");
  };
  const serious = view.findings.filter((f) => f.severity !== "information");
  return (
    <>
      <h2>{diagram.name}</h2>
      <p className={cx("sub")}>{diagram.description ?? "Select a part or a wire to see what it is."}</p>
      <h3>Parameters of the model</h3>
      {Object.entries(diagram.parameters).map(([key, p]) => {
        const v = view.parameters[key];
        const problem = view.findings.find((f) => f.item === key && !f.part && f.severity === "error");
        return (
          <div className={cx("row", { bad: problem })} key={key}>
            <label htmlFor={`model-${key}`} title={p.description}>
              <span className="mono">{key}</span> {p.description}
            </label>
            <TextField
              id={`model-${key}`}
              label={`${key} ${p.description ?? ""}`}
              value={p.value}
              invalid={!!problem}
              commit={(t) => edit(`Set ${key}`, [{ op: "replace", path: here("parameters", key, "value"), value: typedOver(p.value, t) }])}
            />
            <Button
              type="text"
              size="small"
              icon={<CloseOutlined />}
              aria-label={`Remove ${key}`}
              onClick={() => edit(`Remove ${key}`, [{ op: "remove", path: here("parameters", key) }])}
            />
            {problem && <Message bad>{problem.message}</Message>}
            {!problem &&
              v?.value !== null &&
              v?.value !== undefined &&
              !Number.isFinite(Number(p.value)) &&
              !/^[-\d.e]+ /i.test(p.value) && <Message>= {format(v.value, 5)}</Message>}
          </div>
        );
      })}
      <form
        className={cx("row")}
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <Input
          size="small"
          placeholder="new parameter"
          aria-label="Name of a new parameter"
          value={name}
          onChange={(e) => setName(e.target.value)}
          aria-invalid={name !== "" && !valid}
        />
        <Button size="small" htmlType="submit" disabled={!valid}>
          Add
        </Button>
        {name !== "" && !valid && (
          <Message bad>{taken ? "There is one of this name." : "A name starts with a letter and has letters, digits and _ only."}</Message>
        )}
      </form>
      <h3>Findings</h3>
      <FindingsList findings={view.findings} onShow={(part) => void goToPart(part)} onFix={act} />
      <p className={cx("quiet", "counts")}>
        {Object.keys(diagram.parts).length} parts, {String(view.equations)} equations, {String(view.unknowns)} unknowns
        {serious.length === 0 ? "" : `, ${serious.length} to look at`}
      </p>
    </>
  );
}
