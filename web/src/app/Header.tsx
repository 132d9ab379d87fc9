import { RedoOutlined, UndoOutlined } from "@ant-design/icons";
import classNames from "classnames/bind";
import { Button, Input } from "antd";
import { Fragment, type ReactNode } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Verdict } from "../api/client";
import { levelsOf, pointer } from "../state/document";
import { edit, goToLevel, mayChange, move } from "../state/model";
import { isStale, onlyLooks, setStage, showPane, useBench } from "../state/bench";
import { colorOfOther, initials } from "../state/others";
import { setTime } from "../state/runs";
import { keys, keyText } from "../ui/keys";
import { format } from "../ui/format";
import styles from "./app.module.css";

const cx = classNames.bind(styles);

interface HeaderProps {
  onFind: () => void;
  /** Whether the inspector lies over the middle, where the window has no room beside it. */
  inspecting: boolean;
  onInspect: () => void;
}

/** Model name, what is saved, undo, search, verdicts. */
export function Header({ onFind, inspecting, onInspect }: HeaderProps) {
  const { root, name, level, revision, saving, view, looks, refused } = useBench(
    useShallow((s) => ({
      level: s.level,
      root: s.model.root,
      name: s.model.definitions[s.model.root]?.name ?? "",
      revision: s.revision,
      saving: s.saving,
      view: s.view,
      looks: onlyLooks(s),
      refused: s.refused,
    })),
  );
  return (
    <header className={cx("header")}>
      <h1 className="unseen">{name}</h1>
      <a className={cx("crumb")} href="#/">
        Models
      </a>
      <span className={cx("crumb-sep")}>▸</span>
      {level !== "" ? (
        <Way />
      ) : (
        <Input
          className={cx("model-name")}
          variant="borderless"
          size="small"
          key={`${name} ${refused}`}
          defaultValue={name}
          aria-label="Name of the model"
          htmlSize={Math.max(6, name.length)}
          onBlur={(e) =>
            e.target.value.trim() &&
            e.target.value.trim() !== name &&
            edit("Rename model", [{ op: "replace", path: pointer("definitions", root, "name"), value: e.target.value.trim() }])
          }
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        />
      )}
      <Button
        type="text"
        size="small"
        className={cx("saved")}
        data-revision={revision}
        data-saving={saving}
        title="Show the history"
        onClick={() => {
          setStage("build");
          showPane("history");
        }}
      >
        <span role="status">{saving > 0 ? "saving…" : `saved · r${revision}`}</span>
      </Button>
      <Button
        type="text"
        size="small"
        icon={<UndoOutlined />}
        disabled={!view.canUndo || saving > 0 || looks}
        onClick={() => void move("undo")}
        aria-label="Undo"
        title={`Undo (${keyText(keys.undo)})`}
      />
      <Button
        type="text"
        size="small"
        icon={<RedoOutlined />}
        disabled={!view.canRedo || saving > 0 || looks}
        onClick={() => void move("redo")}
        aria-label="Redo"
        title={`Redo (${keyText(keys.redo)})`}
      />
      {looks && (
        <Button size="small" className={cx("only-view")} onClick={mayChange}>
          only looking
        </Button>
      )}
      <Present />
      <Button size="small" className={cx("find")} onClick={onFind}>
        Find a part, signal or command <kbd>{keyText(keys.find)}</kbd>
      </Button>
      <VerdictChips />
      <Button size="small" className={cx("show-inspector")} aria-pressed={inspecting} onClick={onInspect}>
        Inspector
      </Button>
    </header>
  );
}

/** Who else has the model open; a click goes where they are. */
function Present() {
  const others = useBench((s) => s.others);
  return others.length === 0 ? null : (
    <span role="group" aria-label="Others here" className={cx("others")}>
      {others.map((o) => (
        <button
          key={o.window}
          type="button"
          style={{ background: colorOfOther(o.window) }}
          aria-label={`Go to ${o.name || "somebody"}`}
          title={o.name || "somebody"}
          onClick={() => void goToLevel(o.level, o.selection)}
        >
          {initials(o.name)}
        </button>
      ))}
    </span>
  );
}

/** The levels from the root to the one that is shown; each but the last leads there. */
function Way() {
  const { model, level } = useBench(useShallow((s) => ({ model: s.model, level: s.level })));
  const names = levelsOf(model).find((l) => l.path === level)?.names ?? [];
  const steps = [model.definitions[model.root]?.name ?? "", ...names];
  const paths = steps.map((_, i) => level.split("/").slice(0, i).join("/"));
  return (
    <nav className={cx("way")} aria-label="Levels">
      {steps.map((name, i) =>
        i === steps.length - 1 ? (
          <b key={paths[i]} aria-current="location">
            {name}
          </b>
        ) : (
          <Fragment key={paths[i]}>
            <Button type="text" size="small" className={cx("crumb")} onClick={() => void goToLevel(paths[i] as string)}>
              {name}
            </Button>
            <span className={cx("crumb-sep")}>▸</span>
          </Fragment>
        ),
      )}
    </nav>
  );
}

/** Verdicts of the last run: how many are met, and which are missed. */
function VerdictChips() {
  const run = useBench((s) => s.run);
  const stale = useBench(isStale);
  const verdicts = run?.verdicts ?? [];
  if (verdicts.length === 0) return null;
  const of = (kind: Verdict["kind"]) => verdicts.filter((v) => v.kind === kind);
  const [met, missed, open] = [of("met").length, of("missed"), of("open").length];
  const verify = () => setStage("verify");
  return (
    <span
      className={cx("chips")}
      role="group"
      aria-label={stale ? "Requirements, out of date" : "Requirements"}
      title={stale ? "Of an earlier revision: run the model again" : undefined}
    >
      {met > 0 && (
        <Chip kind="met" act={verify}>
          {met} met
        </Chip>
      )}
      {missed.slice(0, 2).map((v) => (
        <Chip key={v.id} kind="missed" title={missedBy(v)} act={() => (v.decides === null ? verify() : setTime(v.decides))}>
          {v.name} {format(v.actual ?? NaN, 3)} of {format(v.limit ?? NaN, 3)} {v.unit}
        </Chip>
      ))}
      {missed.length > 2 && (
        <Chip kind="missed" act={verify}>
          +{missed.length - 2} missed
        </Chip>
      )}
      {open > 0 && (
        <Chip kind="open" act={verify}>
          {open} open
        </Chip>
      )}
    </span>
  );
}

const missedBy = (v: Verdict) => `${v.explanation}: ${format(v.actual ?? NaN)} ${v.unit} of ${format(v.limit ?? NaN)} ${v.unit}`;

function Chip({ kind, title, act, children }: { kind: string; title?: string; act: () => void; children: ReactNode }) {
  return (
    <Button size="small" shape="round" className={cx("chip", "result", kind)} title={title} onClick={act}>
      <u /> {children}
    </Button>
  );
}
