import type { FindingView } from "../api/client";
import type { Operation } from "../state/document";
import { edit, goToPart } from "../state/model";

/** Findings with their place, reason and fix. */
export function FindingsList({ findings }: { findings: readonly FindingView[] }) {
  if (findings.length === 0) return <p className="quiet">Nothing to report: the model can run.</p>;
  const order = { error: 0, warning: 1, information: 2 } as Record<string, number>;
  return (
    <ul className="findings">
      {[...findings]
        .sort((a, b) => (order[a.severity] ?? 3) - (order[b.severity] ?? 3))
        .slice(0, 100)
        .map((f, i) => (
          <li key={i} className={f.severity}>
            <span className="finding-flag" aria-label={f.severity}>
              ⚑
            </span>
            <div>
              {f.part && (
                <button className="link" onClick={() => f.part && void goToPart(f.part)}>
                  {f.partName}
                  {f.item ? ` ▸ ${f.item}` : ""}
                </button>
              )}{" "}
              {f.message} {f.suggestion}
              {f.help && (
                <details>
                  <summary>Explain</summary>
                  <p>{f.help}</p>
                </details>
              )}
              {f.fix && (
                <button className="link fix" onClick={() => f.fix && edit(f.fix.label, f.fix.operations as unknown as Operation[])}>
                  {f.fix.label}
                </button>
              )}
            </div>
          </li>
        ))}
    </ul>
  );
}
