import { setStage, useBench, type Stage } from "../state/bench";

const stages: { id: Stage; label: string; path: string }[] = [
  { id: "build", label: "Build", path: "M2 6h6v8H2zM12 6h6v8h-6zM8 10h4" },
  { id: "observe", label: "Observe", path: "M2 14c3 0 3-9 6-9s3 7 5 7 2-3 5-3M2 18h16" },
  { id: "tune", label: "Tune", path: "M3 4v6M3 14v2M10 4v1M10 9v7M17 4v4M17 12v4M1 12h4M8 7h4M15 10h4" },
  { id: "verify", label: "Verify", path: "M3 3h14v14H3zM6.5 10.5l2.5 2.5 5-6" },
];

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
