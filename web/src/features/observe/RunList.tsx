import classNames from "classnames/bind";
import { PushpinFilled, PushpinOutlined } from "@ant-design/icons";
import { Button, Dropdown, Radio, Switch } from "antd";
import { useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { keepPresent, labelRun, removeRun, setFollows, setReference, toggleRun } from "../../state/observe";
import { takeUp } from "../../state/play";
import { stimulusOf } from "../../state/stimuli";
import { TextField } from "../../ui/TextField";
import { ImportRun } from "./ImportRun";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

type Run = Schemas["RunSummary"];

/** Runs beside the present one that are listed before the rest is asked for. */
const LISTED = 8;

/** The runs of the model: which are shown, which one others are compared with, which are kept. */
export function RunList() {
  const { runs, present, overlays, reference, follows, bands } = useBench(
    useShallow((s) => ({
      runs: s.runs,
      present: s.run?.id ?? null,
      overlays: s.overlays,
      reference: s.reference,
      follows: s.follows,
      bands: s.bands,
    })),
  );
  const [all, setAll] = useState(false);
  const [importing, setImporting] = useState(false);
  const ordered = useMemo(
    () => [...runs].sort((a, b) => Number(b.id === present) - Number(a.id === present) || b.number - a.number),
    [runs, present],
  );
  const listed = all ? ordered : ordered.filter((r, i) => i < LISTED || r.isPinned || overlays.includes(r.id));
  return (
    <section aria-label="Runs">
      <div className={cx("columns")}>
        <span>shown</span>
        <span>run and its verdicts</span>
        <span>compare with</span>
      </div>
      <ul className={cx("runs")}>
        {listed.map((r) => (
          <Row key={r.id} run={r} isPresent={r.id === present} isShown={overlays.includes(r.id)} isReference={r.id === reference} />
        ))}
      </ul>
      {bands && (
        <div className={cx("study-band")}>
          <span>
            <b>{bands.runs} runs</b> of {bands.name}: all, nine of ten, and the middle
          </span>
          <Button size="small" type="text" aria-label={`Hide the runs of ${bands.name}`} onClick={() => useBench.setState({ bands: null })}>
            ×
          </Button>
        </div>
      )}
      {runs.length === 0 && <p className="quiet">No run yet.</p>}
      {listed.length < ordered.length && (
        <Button type="link" size="small" onClick={() => setAll(true)}>
          {ordered.length - listed.length} more
        </Button>
      )}
      <div className={cx("acts")}>
        <Button size="small" disabled={!present} onClick={keepPresent} title="The present curves stay beside those of the next runs">
          Keep shown
        </Button>
        <Button size="small" onClick={() => setImporting(true)}>
          Bring in a file
        </Button>
        <label className={cx("follow")}>
          <Switch size="small" checked={follows} onChange={setFollows} aria-label="Show the run before" />
          the run before
        </label>
      </div>
      {importing && <ImportRun onClose={() => setImporting(false)} />}
    </section>
  );
}

interface RowProps {
  run: Run;
  isPresent: boolean;
  isShown: boolean;
  isReference: boolean;
}

function Row({ run, isPresent, isShown, isReference }: RowProps) {
  const [editing, setEditing] = useState(false);
  const label = { name: run.name, note: run.note, isPinned: run.isPinned };
  const name = run.name || (run.source ?? `Run ${run.number}`);
  const met = run.verdicts.filter((v) => v === "met").length;
  return (
    <li className={cx("run", { now: isPresent })} data-run={run.number}>
      <Switch
        size="small"
        aria-label={`Show ${name}`}
        checked={isPresent || isShown}
        disabled={isPresent}
        onChange={() => toggleRun(run.id)}
      />
      <div>
        <div className={cx("run-name")}>
          <b>{run.number}</b>
          <span title={run.note || undefined}>{isPresent && !run.name ? "present" : run.name || run.source || ""}</span>
          <Button
            type="text"
            size="small"
            icon={run.isPinned ? <PushpinFilled /> : <PushpinOutlined />}
            className={cx("pin", { on: run.isPinned })}
            aria-label={run.isPinned ? `Do not keep ${name} any longer` : `Keep ${name} for good`}
            aria-pressed={run.isPinned}
            disabled={run.state !== "finished"}
            onClick={() => void labelRun(run.id, { ...label, isPinned: !run.isPinned })}
          />
          <Dropdown
            trigger={["click"]}
            menu={{
              items: [
                { key: "name", label: "Name and note", onClick: () => setEditing(true) },
                ...(run.state === "paused" && !isPresent
                  ? [{ key: "take", label: "Go on playing it", onClick: () => void takeUp(run.id) }]
                  : []),
                { key: "stimulus", label: "Make a stimulus of what was set", onClick: () => void stimulusOf(run.id) },
                { key: "remove", label: "Remove", disabled: isPresent, onClick: () => void removeRun(run.id) },
              ],
            }}
          >
            <Button type="text" size="small" aria-label={`What can be done with ${name}`}>
              ⋯
            </Button>
          </Dropdown>
        </div>
        <div className={cx("run-state")}>
          <span className={cx("verdicts")} aria-hidden>
            {run.verdicts.slice(0, 24).map((v, i) => (
              <i key={i} data-kind={v} />
            ))}
          </span>
          {run.verdicts.length > 0 && `${met} of ${run.verdicts.length} met · `}r{run.revision}
          {run.stimulus && ` · ${run.stimulus}`}
          {run.state !== "finished" && ` · ${run.state}`}
          {run.branchOf && " · branch"}
        </div>
        {run.problem && <div className={cx("problem")}>{run.problem}</div>}
        {run.note && !editing && <div className="quiet">{run.note}</div>}
        {editing && (
          <div className={cx("label-form")}>
            <TextField
              label="Name of the run"
              prose
              placeholder="Name"
              value={run.name}
              commit={(text) => void labelRun(run.id, { ...label, name: text })}
              onEmpty={() => void labelRun(run.id, { ...label, name: "" })}
            />
            <TextField
              label="Note on the run"
              prose
              placeholder="Note"
              value={run.note}
              commit={(text) => void labelRun(run.id, { ...label, note: text })}
              onEmpty={() => void labelRun(run.id, { ...label, note: "" })}
            />
            <Button size="small" type="link" onClick={() => setEditing(false)}>
              Done
            </Button>
          </div>
        )}
      </div>
      <Radio
        aria-label={`Compare with ${name}`}
        checked={isReference}
        disabled={isPresent}
        onClick={() => setReference(isReference ? null : run.id)}
      />
    </li>
  );
}
