import { Button } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { format } from "../../ui/format";
import { edit, here } from "../../state/model";
import { useBench } from "../../state/bench";
import { FindingsList } from "../../ui/FindingsList";
import { TextField } from "../../ui/TextField";
import { typedOver } from "../../ui/typedUnit";

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
      <p className="sub">{diagram.description ?? "Select a part or a wire to see what it is."}</p>
      <h3>Parameters of the model</h3>
      {Object.entries(diagram.parameters).map(([key, p]) => {
        const v = view.parameters[key];
        const problem = view.findings.find((f) => f.item === key && !f.part && f.severity === "error");
        return (
          <div className={`row ${problem ? "bad" : ""}`} key={key}>
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
            <button
              className="remove"
              aria-label={`Remove ${key}`}
              onClick={() => edit(`Remove ${key}`, [{ op: "remove", path: here("parameters", key) }])}
            >
              ×
            </button>
            {problem && <p className="message bad">{problem.message}</p>}
            {!problem &&
              v?.value !== null &&
              v?.value !== undefined &&
              !Number.isFinite(Number(p.value)) &&
              !/^[-\d.e]+ /i.test(p.value) && <p className="message">= {format(Number(v.value), 5)}</p>}
          </div>
        );
      })}
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <input
          className="field left"
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
          <p className="message bad">
            {taken ? "There is one of this name." : "A name starts with a letter and has letters, digits and _ only."}
          </p>
        )}
      </form>
      <h3>Findings</h3>
      <FindingsList findings={view.findings} />
      <p className="quiet counts">
        {Object.keys(diagram.parts).length} parts, {String(view.equations)} equations, {String(view.unknowns)} unknowns
        {serious.length === 0 ? "" : `, ${serious.length} to look at`}
      </p>
    </>
  );
}
