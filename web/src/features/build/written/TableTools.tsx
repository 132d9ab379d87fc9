import { Button } from "antd";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../../state/bench";
import type { Table } from "../../../state/document";
import { addCondition, addOutput, addPhase, addRule, moveRow, plotRows, removeRow } from "../../../state/tables";

/** What can be done with rules, columns and phases. */
export function TableTools() {
  const { table, chosen } = useBench(
    useShallow((s) => ({ table: s.table as Table, chosen: s.selection.size === 1 ? ([...s.selection][0] as string) : null })),
  );
  const isDecisions = table.kind === "decisions";
  const rows: Record<string, unknown> = isDecisions ? table.rules : table.phases;
  const row = chosen !== null && chosen in rows ? chosen : null;
  const column = chosen !== null && isDecisions && chosen in table.conditions ? chosen : null;
  const at = row ?? column;
  const one = row ? (isDecisions ? "rule" : "phase") : "column";
  return (
    <>
      {isDecisions ? (
        <>
          <Button size="small" onClick={() => void addRule(row)}>
            Rule
          </Button>
          <Button size="small" onClick={() => void addCondition()}>
            Condition
          </Button>
          <Button size="small" onClick={() => void addOutput()}>
            Output
          </Button>
        </>
      ) : (
        <>
          <Button size="small" onClick={() => void addPhase(row)}>
            Phase
          </Button>
          <Button size="small" onClick={() => void addOutput()}>
            Command
          </Button>
        </>
      )}
      {isDecisions && row && (
        <Button size="small" onClick={() => void addRule(row, row)}>
          Copy
        </Button>
      )}
      {at && (
        <>
          <Button size="small" onClick={() => moveRow(at, -1)} aria-label={`Move the ${one} ${row && isDecisions ? "up" : "to the left"}`}>
            {row && isDecisions ? "↑" : "←"}
          </Button>
          <Button
            size="small"
            onClick={() => moveRow(at, 1)}
            aria-label={`Move the ${one} ${row && isDecisions ? "down" : "to the right"}`}
          >
            {row && isDecisions ? "↓" : "→"}
          </Button>
          <Button size="small" onClick={() => removeRow(at)} aria-label={`Delete the ${one}`}>
            Delete
          </Button>
        </>
      )}
      <Button size="small" onClick={plotRows} title="Bands over time, on the sheet of plots at hand">
        Plot
      </Button>
    </>
  );
}
