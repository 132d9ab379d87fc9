import classNames from "classnames/bind";
import { Button, Input } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { act } from "../../state/edits";
import { edit, goToPart, here } from "../../state/model";
import { useBench } from "../../state/bench";
import { levelAt, type ModelDocument } from "../../state/document";
import { FindingsList } from "../../ui/FindingsList";
import { BalanceTable } from "./BalanceTable";
import { FacePanel } from "./FacePanel";
import { FaceRow } from "./FaceRow";
import { PlaySections } from "./PlaySections";
import { UsesTable } from "./UsesTable";
import { Message } from "../../ui/Message";
import { TextBlock } from "../../ui/TextBlock";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** The name of the nearest level above that has a parameter of a name; null where none has. */
function holderAbove(model: ModelDocument, level: string, name: string): string | null {
  for (let path = level; path !== "";) {
    path = path.slice(0, Math.max(0, path.lastIndexOf("/")));
    const above = levelAt(model, path)?.diagram;
    if (above && name in above.parameters) return above.name;
  }
  return null;
}

/** The model itself: its parameters, its findings, its counts. */
export function Overview() {
  const { diagram, view } = useBench(useShallow((s) => ({ diagram: s.diagram, view: s.view })));
  const [name, setName] = useState("");
  const above = useBench((s) => holderAbove(s.model, s.level, name.trim()));
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
      {view.level === "" ? (
        <h2>{diagram.name}</h2>
      ) : (
        <>
          <h2 className="unseen">{diagram.name}</h2>
          <TextField
            label="Name of the definition"
            value={diagram.name}
            title
            commit={(name) => edit("Rename definition", [{ op: "replace", path: here("name"), value: name }])}
          />
        </>
      )}
      <TextBlock
        label={view.level === "" ? "Description of the model" : "Description of the subsystem"}
        value={diagram.description ?? ""}
        placeholder="What it is, in a few lines"
        prose
        commit={(text) =>
          edit("Describe", [
            text === "" ? { op: "remove", path: here("description") } : { op: "add", path: here("description"), value: text },
          ])
        }
      />
      <h3>{view.level === "" ? "Parameters of the model" : "Asked on the face"}</h3>
      {Object.entries(diagram.parameters).map(([key, p]) => (
        <FaceRow
          key={key}
          name={key}
          node={p}
          view={view.parameters[key]}
          problem={view.findings.find((f) => f.item === key && (f.part ?? "") === view.level && f.severity === "error")?.message ?? null}
          users={view.uses[key] ?? []}
        />
      ))}
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
        {valid && above && <Message>{above} has one of this name; here and further in this one would be meant instead.</Message>}
        {name !== "" && !valid && (
          <Message bad>{taken ? "There is one of this name." : "A name starts with a letter and has letters, digits and _ only."}</Message>
        )}
      </form>
      {view.level !== "" && <FacePanel />}
      {view.level !== "" && <UsesTable />}
      {view.level === "" && <PlaySections />}
      <h3>Findings</h3>
      <FindingsList findings={view.findings} onShow={(part) => void goToPart(part)} onFix={act} />
      <p className={cx("quiet", "counts")}>
        {Object.keys(diagram.parts).length} parts, {String(view.equations)} equations, {String(view.unknowns)} unknowns
        {serious.length === 0 ? "" : `, ${serious.length} to look at`}
      </p>
      <BalanceTable />
    </>
  );
}
