import { setStage, useBench } from "../state/bench";
import { stages } from "./stages";

export function Rail() {
  const stage = useBench((s) => s.stage);
  return (
    <nav className="rail" aria-label="Stages">
      <a href="#/" className="mark" aria-label="All models">
        <img src="/mark.svg" alt="" width="36" height="36" />
      </a>
      {stages.map((s) => (
        <button
          key={s.id}
          className={stage === s.id ? "on" : ""}
          aria-current={stage === s.id ? "page" : undefined}
          onClick={() => setStage(s.id)}
        >
          <svg viewBox="0 0 20 20" aria-hidden>
            <path d={s.path} />
          </svg>
          {s.label}
        </button>
      ))}
    </nav>
  );
}
