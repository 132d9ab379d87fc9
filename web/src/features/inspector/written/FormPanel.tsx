import classNames from "classnames/bind";
import { Button, Switch } from "antd";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../../state/bench";
import type { Table } from "../../../state/document";
import { edit } from "../../../state/model";
import { pointer } from "../../../state/document";
import { inOrder, plotRows, removeRow, setRepeats } from "../../../state/tables";
import { TextField } from "../../../ui/TextField";
import { NamePanel } from "./NamePanel";
import { NameTable } from "./NameTable";
import styles from "./written.module.css";

const cx = classNames.bind(styles);

/** What is selected in a table: a name, a rule, a column, a phase, or the table itself. */
export function FormPanel() {
  const { table, selection } = useBench(useShallow((s) => ({ table: s.table as Table, selection: s.selection })));
  const only = selection.size === 1 ? ([...selection][0] as string) : "";
  if (table.names[only]) return <NamePanel key={only} id={only} />;
  return (
    <>
      <Whole table={table} />
      {told(table, only) && (
        <div className={cx("row")}>
          <label>{told(table, only)}</label>
          <Button size="small" onClick={() => removeRow(only)}>
            Delete
          </Button>
        </div>
      )}
      <NameTable of={table} />
      <div className={cx("buttons")}>
        <Button size="small" onClick={plotRows} title="Bands over time, on the sheet of plots at hand">
          {table.kind === "decisions" ? "Plot the rules" : "Plot the phases"}
        </Button>
      </div>
    </>
  );
}

/** What the chosen row or column is called. */
function told(table: Table, id: string): string | null {
  if (table.kind === "schedule") return table.phases[id] ? `Phase ${table.phases[id].name}` : null;
  const rule = inOrder(table.rules).findIndex(([r]) => r === id);
  if (rule >= 0) return `Rule ${rule + 1}`;
  return table.conditions[id] ? `Column ${table.conditions[id].text}` : null;
}

function Whole({ table }: { table: Table }) {
  const definition = useBench((s) => s.definition);
  const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? "" : "s"}`;
  const commands = Object.values(table.names).filter((n) => n.kind === "output").length;
  return (
    <>
      <TextField
        label="Name of the table"
        title
        prose
        value={table.name}
        commit={(name) => edit("Rename a table", [{ op: "replace", path: pointer("definitions", definition, "name"), value: name }])}
      />
      <p className={cx("sub")}>
        {table.kind === "decisions"
          ? `Decision table: ${counted(Object.keys(table.rules).length, "rule")} over ${counted(Object.keys(table.conditions).length, "condition")}`
          : `Schedule: ${counted(commands, "command")} in ${counted(Object.keys(table.phases).length, "phase")}`}
      </p>
      {table.kind === "schedule" && (
        <div className={cx("row")}>
          <label>Begins again at its end</label>
          <Switch size="small" aria-label="Begins again at its end" checked={table.repeats} onChange={setRepeats} />
        </div>
      )}
    </>
  );
}
