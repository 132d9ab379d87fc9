import { Button } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { isStale, useBench } from "../../state/bench";
import { newId, pointer, type RequirementNode } from "../../state/document";
import { edit } from "../../state/model";
import { StageHead, StagePane } from "../../ui/StagePane";
import { RequirementForm } from "./RequirementForm";
import { RequirementTable } from "./RequirementTable";

/** Requirements with their verdicts of the last run. */
export default function VerifyStage() {
  const { model, run, stale } = useBench(useShallow((s) => ({ model: s.model, run: s.run, stale: isStale(s) })));
  const [editing, setEditing] = useState<{ id: string; node: RequirementNode } | null>(null);
  const rows = Object.entries(model.requirements).map(([id, node]) => ({
    id,
    node,
    verdict: run?.verdicts.find((v) => v.id === id),
  }));
  const fresh = (): RequirementNode => ({ name: "", kind: "upperLimit", signal: "", limit: "1" });
  return (
    <StagePane label="Verify">
      <StageHead>
        <h2>Requirements</h2>
        <Button type="primary" size="small" onClick={() => setEditing({ id: newId("r"), node: fresh() })}>
          Add a requirement
        </Button>
        <span className="quiet">
          {run?.state === "finished"
            ? `verdicts of the run of revision ${run.revision}, ${run.statistics?.method ?? ""}${stale ? ": out of date, the model has changed since" : ""}`
            : "no run yet"}
        </span>
      </StageHead>
      <RequirementTable
        rows={rows}
        onChange={setEditing}
        onRemove={(r) => edit("Remove requirement", [{ op: "remove", path: pointer("requirements", r.id) }])}
      />
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
