import classNames from "classnames/bind";
import { Button, Table } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Verdict } from "../../api/client";
import { format } from "../../ui/format";
import { newId, pointer, type RequirementNode } from "../../state/document";
import { edit } from "../../state/model";
import { isStale, useBench } from "../../state/bench";
import { setTime } from "../../state/runs";
import { StageHead, StagePane } from "../../ui/StagePane";
import { kinds, RequirementForm } from "./RequirementForm";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

interface Row {
  id: string;
  node: RequirementNode;
  verdict: Verdict | undefined;
}

/** Requirements with their verdicts of the last run. */
export default function VerifyStage() {
  const { model, run, infos, stale } = useBench(
    useShallow((s) => ({ model: s.model, run: s.run, infos: s.view.signals, stale: isStale(s) })),
  );
  const [editing, setEditing] = useState<{ id: string; node: RequirementNode } | null>(null);
  const labels = new Map(Object.values(infos).map((s) => [s.reference, s.label]));
  const rows: Row[] = Object.entries(model.requirements).map(([id, node]) => ({
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
      <Table<Row>
        size="small"
        rowKey="id"
        pagination={false}
        dataSource={rows}
        locale={{ emptyText: "No requirement yet. Add one to have every run judged." }}
        onRow={(r) => ({
          tabIndex: 0,
          onClick: () => r.verdict?.decides !== null && r.verdict?.decides !== undefined && setTime(r.verdict.decides),
          onKeyDown: (e) =>
            e.key === "Enter" && r.verdict?.decides !== null && r.verdict?.decides !== undefined && setTime(r.verdict.decides),
        })}
        columns={[
          {
            title: "Verdict",
            width: 72,
            render: (_, r) => <span className={cx("verdict", "result", r.verdict?.kind ?? "open")}>{r.verdict?.kind ?? "open"}</span>,
          },
          {
            title: "Requirement",
            render: (_, r) => (
              <>
                <b>{r.node.name}</b>
                <div className="quiet">{r.node.text}</div>
              </>
            ),
          },
          {
            title: "Condition",
            width: 170,
            render: (_, r) =>
              `${r.node.measure ? (model.measures[r.node.measure]?.name ?? "a measure that is gone") : (labels.get(r.node.signal) ?? r.node.signal)}: ${kinds[r.node.kind].label.toLowerCase().replace(" at most", "")} ${r.node.kind === "lowerLimit" ? "≥" : "≤"} ${r.node.limit}`,
          },
          {
            title: "Actual",
            width: 84,
            align: "right",
            render: (_, r) => <span className="mono">{number(r.verdict?.actual, r.verdict?.unit)}</span>,
          },
          {
            title: "Left",
            width: 84,
            align: "right",
            render: (_, r) => <span className={cx("mono", "verdict", r.verdict?.kind)}>{number(r.verdict?.margin, r.verdict?.unit)}</span>,
          },
          {
            title: "Decided",
            width: 170,
            render: (_, r) =>
              r.verdict?.decides !== null && r.verdict?.decides !== undefined
                ? `${r.verdict.explanation}, at ${format(r.verdict.decides)} s`
                : (r.verdict?.explanation ?? ""),
          },
          {
            title: <span className="unseen">Actions</span>,
            width: 100,
            render: (_, r) => (
              <span onClick={(e) => e.stopPropagation()}>
                <Button
                  size="small"
                  type="link"
                  aria-label={`Change ${r.node.name}`}
                  onClick={() => setEditing({ id: r.id, node: r.node })}
                >
                  Change
                </Button>
                <Button
                  size="small"
                  type="link"
                  aria-label={`Remove ${r.node.name}`}
                  onClick={() => edit("Remove requirement", [{ op: "remove", path: pointer("requirements", r.id) }])}
                >
                  ×
                </Button>
              </span>
            ),
          },
        ]}
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

const number = (v: number | null | undefined, unit: string | undefined) =>
  v === null || v === undefined ? "–" : `${format(v)} ${unit ?? ""}`;
