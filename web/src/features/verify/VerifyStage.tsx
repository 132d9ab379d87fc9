import classNames from "classnames/bind";
import { useEffect, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { isStale, useBench } from "../../state/bench";
import { readCases, useCases } from "../../state/cases";
import { newId, pointer, type RequirementNode } from "../../state/document";
import { edit } from "../../state/model";
import { format } from "../../ui/format";
import { StageHead, StagePane } from "../../ui/StagePane";
import { CaseMatrix } from "./CaseMatrix";
import { CaptureButton } from "./CaptureForm";
import { RequirementFiles } from "./RequirementFiles";
import { CoverageTable } from "./CoverageTable";
import { RequirementForm } from "./RequirementForm";
import { RequirementTable } from "./RequirementTable";
import { TreeEditor } from "./TreeEditor";
import { VerifyPane } from "./VerifyPane";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

const fresh = (): RequirementNode => ({ name: "", kind: "upperLimit", signal: "", limit: "1" });

/** Requirements with their verdicts of the last run, and of all cases. */
export default function VerifyStage() {
  const { id, revision, resultsRevision } = useBench(
    useShallow((s) => ({ id: s.id, revision: s.revision, resultsRevision: s.view.resultsRevision })),
  );
  const view = useCases((s) => s.view);
  const [editing, setEditing] = useState<{ id: string; node: RequirementNode } | null>(null);
  // Every edit may make results stale, or bring cases.
  useEffect(() => void readCases(), [id, revision, resultsRevision]);
  const add = () => setEditing({ id: newId("r"), node: fresh() });
  return (
    <StagePane label="Verify" className={cx("verify")}>
      <VerifyPane onAddRequirement={add} />
      <div className={cx("main")}>
        {view === "cases" ? (
          <CaseMatrix />
        ) : view === "coverage" ? (
          <CoverageTable />
        ) : view === "trees" ? (
          <TreeEditor />
        ) : (
          <Requirements onChange={setEditing} />
        )}
      </div>
      {editing && (
        <RequirementForm
          key={editing.id}
          node={editing.node}
          onClose={() => setEditing(null)}
          onSave={(node) => {
            edit("Requirement", [{ op: "add", path: pointer("requirements", editing.id), value: node }]);
            setEditing(null);
          }}
        />
      )}
    </StagePane>
  );
}

function Requirements({ onChange }: { onChange: (row: { id: string; node: RequirementNode }) => void }) {
  const { model, run, stale } = useBench(useShallow((s) => ({ model: s.model, run: s.run, stale: isStale(s) })));
  const rows = Object.entries(model.requirements).map(([id, node]) => ({
    id,
    node,
    verdict: run?.verdicts.find((v) => v.id === id),
  }));
  return (
    <div className={cx("live")}>
      <StageHead>
        <h2>Requirements</h2>
        <CaptureButton />
        <RequirementFiles />
        <span className="quiet">
          {run?.state === "finished"
            ? `verdicts of the run of revision ${run.revision}, ${run.statistics?.method ?? ""}${stale ? ": out of date, the model has changed since" : ""}`
            : run
              ? `so far, at ${format(Number(run.reached), 4)} s of the run of revision ${run.revision}`
              : "no run yet"}
        </span>
      </StageHead>
      <RequirementTable
        rows={rows}
        onChange={onChange}
        onRemove={(r) => edit("Remove requirement", [{ op: "remove", path: pointer("requirements", r.id) }])}
      />
    </div>
  );
}
