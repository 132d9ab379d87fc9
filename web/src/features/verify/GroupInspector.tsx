import classNames from "classnames/bind";
import { Button } from "antd";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { choose, runCases, useCases } from "../../state/cases";
import { removeGroup, setGroup, type CaseGroup } from "../../state/caseEdits";
import { TextField } from "../../ui/TextField";
import { CaseValues } from "./CaseValues";
import { Chips } from "./VerifyAside";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

/** A group of cases, with what is set for all of them. */
export function GroupInspector({ id, node }: { id: string; node: CaseGroup }) {
  const cases = useBench(useShallow((s) => Object.entries(s.model.cases).flatMap(([key, c]) => (c.group === id ? [key] : []))));
  const all = useCases((s) => s.all);
  const rows = (all?.cases ?? []).filter((r) => cases.includes(r.id));
  const failed = rows.filter((r) => r.outcome !== null && r.outcome !== "passed").length;
  return (
    <>
      <TextField title label="Name of the group" value={node.name} commit={(name) => setGroup(id, { name })} />
      <Chips passed={rows.filter((r) => r.outcome === "passed").length} failed={failed} stale={rows.filter((r) => r.isStale).length} />
      <div className={cx("acts")}>
        <Button size="small" disabled={cases.length === 0} onClick={() => void runCases({ cases })}>
          {cases.length === 1 ? "Run its case" : `Run its ${cases.length} cases`}
        </Button>
        <Button
          size="small"
          onClick={() => {
            choose({});
            removeGroup(id);
          }}
        >
          Remove the group
        </Button>
      </div>
      <h3>Set for all its cases</h3>
      <CaseValues of={{ kind: "caseGroups", id }} values={node.values} />
    </>
  );
}
