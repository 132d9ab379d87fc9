import type { RunView } from "../../api/client";
import { select, useBench } from "../../state/bench";
import { setTime } from "../../state/runs";
import { format } from "../../ui/format";

/** How a run went: steps, events, method changes, what kept it slow, where it began. */
export function RunReport({ run }: { run: RunView }) {
  const s = run.statistics;
  if (!s) return <p className="quiet">The run has not ended yet.</p>;
  const method = s.method ?? "";
  const adaptive = Number(s.rejected) > 0 || method === "auto";
  const counts: [string, string][] = [
    ["Run", `${format(Number(s.runSeconds) * 1000, 3)} ms`],
    ["Method", method],
    ["Steps", String(s.steps) + (Number(s.implicitSteps) > 0 ? `, ${String(s.implicitSteps)} of them implicit` : "")],
    ...(adaptive ? [["Rejected", String(s.rejected)] as [string, string]] : []),
    ["Evaluations", String(s.evaluations)],
    ...(Number(s.jacobians) > 0
      ? [["Jacobians, factorisations", `${String(s.jacobians)}, ${String(s.factorizations)}`] as [string, string]]
      : []),
    ["Events", `${String(s.stateEvents)} by state, ${String(s.timeEvents)} by time`],
    ["States, equations", `${String(s.states)}, ${String(s.equations)}`],
  ];
  return (
    <div className="run-report" role="dialog" aria-label="Run statistics">
      <dl>
        {counts.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd className="mono">{value}</dd>
          </div>
        ))}
      </dl>
      {run.notes.map((n, i) => (
        <div key={i} className="note">
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
                <span className="mono amount">{String(e.count)}</span>
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
                <span className="mono amount">{format(Number(e.value), 5)}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
      {Number(s.stateEvents) > 0 && run.events[0] && (
        <button className="link" onClick={() => setTime(Number(run.events[0]?.time))}>
          Show the first event
        </button>
      )}
    </div>
  );
}

function Shares({ title, entries }: { title: string; entries: readonly { part: string; name: string; share: number | string }[] }) {
  const shown = entries.filter((e) => Number(e.share) >= 0.02).slice(0, 6);
  if (shown.length === 0) return null;
  return (
    <section>
      <h4>{title}</h4>
      <ul>
        {shown.map((e) => (
          <li key={e.name}>
            <PartLink name={e.part} label={e.name} />
            <span className="share" aria-hidden>
              <i style={{ width: `${Number(e.share) * 100}%` }} />
            </span>
            <span className="mono amount">{Math.round(Number(e.share) * 100)} %</span>
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
    <button className="link" onClick={() => select([id])}>
      {text}
    </button>
  ) : (
    <span>{text}</span>
  );
}
