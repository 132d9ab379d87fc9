import classNames from "classnames/bind";
import { Button } from "antd";
import type { RunView } from "../../api/client";
import { select, useBench } from "../../state/bench";
import { setTime } from "../../state/runs";
import { format } from "../../ui/format";
import styles from "./run.module.css";

const cx = classNames.bind(styles);

/** How a run went: steps, events, method changes, what kept it slow, where it began. */
export function RunReport({ run }: { run: RunView }) {
  const s = run.statistics;
  if (!s) return <p className="quiet">The run has not ended yet.</p>;
  const method = s.method ?? "";
  const adaptive = (s.rejected ?? 0) > 0 || method === "auto";
  const counts: [string, string][] = [
    ["Run", `${format((s.runSeconds ?? 0) * 1000, 3)} ms`],
    ["Method", method],
    ["Steps", String(s.steps) + ((s.implicitSteps ?? 0) > 0 ? `, ${String(s.implicitSteps)} of them implicit` : "")],
    ...(adaptive ? [["Rejected", String(s.rejected)] as [string, string]] : []),
    ["Evaluations", String(s.evaluations)],
    ...((s.jacobians ?? 0) > 0
      ? [["Jacobians, factorisations", `${String(s.jacobians)}, ${String(s.factorizations)}`] as [string, string]]
      : []),
    ["Events", `${String(s.stateEvents)} by state, ${String(s.timeEvents)} by time`],
    ["States, equations", `${String(s.states)}, ${String(s.equations)}`],
  ];
  return (
    <div className={cx("report")} role="dialog" aria-label="Run statistics">
      <dl>
        {counts.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd className="mono">{value}</dd>
          </div>
        ))}
      </dl>
      {run.notes.map((n, i) => (
        <div key={i} className={cx("note")}>
          {n.message}
          {n.help && (
            <details>
              <summary>Explain</summary>
              <p>{n.help}</p>
            </details>
          )}
        </div>
      ))}
      <Shares title="Kept the steps short" entries={s.limits ?? []} />
      <Shares title="Arithmetic of one evaluation" entries={s.work ?? []} />
      {(s.eventsByPart ?? []).length > 0 && (
        <section>
          <h4>Events</h4>
          <ul>
            {(s.eventsByPart ?? []).map((e) => (
              <li key={e.part + e.what}>
                <PartLink name={e.part} /> <span className="quiet">{e.what}</span>
                <span className={cx("mono", "amount")}>{String(e.count)}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {run.start.length > 0 && (
        <details>
          <summary>Where the states began</summary>
          <ul>
            {run.start.slice(0, 60).map((e) => (
              <li key={e.name}>
                {e.name} <span className="quiet">{e.kind === "solved" ? "solved for" : e.kind === "fixed" ? "fixed" : "start value"}</span>
                <span className={cx("mono", "amount")}>{format(e.value, 5)}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
      {(s.stateEvents ?? 0) > 0 && run.events[0] && (
        <Button type="link" size="small" className={cx("link")} onClick={() => setTime(run.events[0]?.time ?? 0)}>
          Show the first event
        </Button>
      )}
    </div>
  );
}

function Shares({ title, entries }: { title: string; entries: readonly { part: string; name: string; share: number }[] }) {
  const shown = entries.filter((e) => e.share >= 0.02).slice(0, 6);
  if (shown.length === 0) return null;
  return (
    <section>
      <h4>{title}</h4>
      <ul>
        {shown.map((e) => (
          <li key={e.name}>
            <PartLink name={e.part} label={e.name} />
            <span className={cx("share")} aria-hidden>
              <i style={{ width: `${e.share * 100}%` }} />
            </span>
            <span className={cx("mono", "amount")}>{Math.round(e.share * 100)} %</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The name of a part, which shows it on the diagram. */
function PartLink({ name, label }: { name: string; label?: string }) {
  const parts = useBench((s) => s.diagram.parts);
  const id = Object.keys(parts).find((k) => parts[k]?.name === name);
  const text = label || name || "the model";
  return id ? (
    <Button type="link" size="small" className={cx("link")} onClick={() => select([id])}>
      {text}
    </Button>
  ) : (
    <span>{text}</span>
  );
}
