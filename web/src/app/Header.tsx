import { useShallow } from "zustand/react/shallow";
import { pointer } from "../state/document";
import { edit, move } from "../state/model";
import { isStale, setStage, useBench } from "../state/bench";
import { setTime } from "../state/runs";
import { format } from "../ui/format";

/** Model name, what is saved, undo, search, verdicts. */
export function Header({ onFind }: { onFind: () => void }) {
  const { root, name, revision, saving, view } = useBench(
    useShallow((s) => ({
      root: s.model.root,
      name: s.model.definitions[s.model.root]?.name ?? "",
      revision: s.revision,
      saving: s.saving,
      view: s.view,
    })),
  );
  return (
    <header className="bench-header">
      <h1 className="unseen">{name}</h1>
      <a className="crumb" href="#/">
        Models
      </a>
      <span className="crumb-sep">▸</span>
      <input
        className="model-name"
        key={name}
        defaultValue={name}
        aria-label="Name of the model"
        size={Math.max(6, name.length)}
        onBlur={(e) =>
          e.target.value.trim() &&
          e.target.value.trim() !== name &&
          edit("Rename model", [{ op: "replace", path: pointer("definitions", root, "name"), value: e.target.value.trim() }])
        }
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
      />
      <span className="saved" role="status" data-revision={revision} data-saving={saving}>
        {saving > 0 ? "saving…" : `saved · r${revision}`}
      </span>
      <button
        className="plain"
        disabled={!view.canUndo || saving > 0}
        onClick={() => void move("undo")}
        aria-label="Undo"
        title="Undo (Ctrl Z)"
      >
        ↶
      </button>
      <button
        className="plain"
        disabled={!view.canRedo || saving > 0}
        onClick={() => void move("redo")}
        aria-label="Redo"
        title="Redo (Ctrl Y)"
      >
        ↷
      </button>
      <button className="find" onClick={onFind}>
        Find a part, signal or command <kbd>Ctrl K</kbd>
      </button>
      <VerdictChips />
    </header>
  );
}

function VerdictChips() {
  const run = useBench((s) => s.run);
  const stale = useBench(isStale);
  const verdicts = run?.verdicts ?? [];
  if (verdicts.length === 0) return null;
  const met = verdicts.filter((v) => v.kind === "met").length;
  const open = verdicts.filter((v) => v.kind === "open").length;
  return (
    <span
      className="chips"
      aria-label={stale ? "Requirements, out of date" : "Requirements"}
      title={stale ? "Of an earlier revision: run the model again" : undefined}
    >
      {met > 0 && (
        <button className="chip met" onClick={() => setStage("verify")}>
          <u /> {met} met
        </button>
      )}
      {verdicts
        .filter((v) => v.kind === "missed")
        .slice(0, 2)
        .map((v) => (
          <button
            key={v.id}
            className="chip missed"
            title={`${v.explanation}: ${format(Number(v.actual))} ${v.unit} of ${format(Number(v.limit))} ${v.unit}`}
            onClick={() => (v.decides !== null && v.decides !== undefined ? setTime(Number(v.decides)) : setStage("verify"))}
          >
            <u /> {v.name} {format(Number(v.actual), 3)} of {format(Number(v.limit), 3)} {v.unit}
          </button>
        ))}
      {verdicts.filter((v) => v.kind === "missed").length > 2 && (
        <button className="chip missed" onClick={() => setStage("verify")}>
          +{verdicts.filter((v) => v.kind === "missed").length - 2} missed
        </button>
      )}
      {open > 0 && (
        <button className="chip open" onClick={() => setStage("verify")}>
          {open} open
        </button>
      )}
    </span>
  );
}
