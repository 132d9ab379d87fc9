import classNames from "classnames/bind";
import { Button, Segmented } from "antd";
import { useShallow } from "zustand/react/shallow";
import { signalColor } from "../../plots/colors";
import { useBench } from "../../state/bench";
import { cancelRunSet, closeRunSet, toggleMember } from "../../state/runSets";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** Runs side by side: their names with the colours of their curves, and what is shown of them. */
export function SetBar({ shows, onShow }: { shows: "curves" | "table"; onShow: (what: "curves" | "table") => void }) {
  const { set, hidden, stale } = useBench(
    useShallow((s) => ({ set: s.set, hidden: s.hidden, stale: s.set !== null && s.set.revision < s.view.resultsRevision })),
  );
  if (!set) return null;
  const ended = set.members.filter((m) => m.state === "finished" || m.state === "failed").length;
  return (
    <div className={cx("set-bar")} role="group" aria-label="Runs side by side">
      <div className={cx("members")}>
        {set.members.map((m, i) => (
          <Button
            key={m.label}
            type="text"
            size="small"
            className={cx("legend", { off: hidden.has(m.label), waiting: m.state === "waiting" || m.state === "running" })}
            aria-pressed={!hidden.has(m.label)}
            title={m.problem ?? `${m.label}: ${m.state}`}
            onClick={() => toggleMember(m.label)}
          >
            <i style={{ background: signalColor(i) }} />
            {m.label}
            {m.state === "failed" && <b className={cx("failed")}>failed</b>}
          </Button>
        ))}
      </div>
      {stale && (
        <span className={cx("stale")} role="status">
          of r{set.revision}
        </span>
      )}
      {set.state === "running" ? (
        <>
          <span className="quiet" role="status">
            {ended} of {set.members.length}
          </span>
          <Button size="small" onClick={() => void cancelRunSet()}>
            Stop
          </Button>
        </>
      ) : (
        <span className="unseen" role="status">
          All {set.members.length} have run
        </span>
      )}
      <Segmented
        size="small"
        aria-label="What is shown of the runs"
        value={shows}
        onChange={onShow}
        options={[
          { value: "curves", label: "Curves" },
          { value: "table", label: "Table" },
        ]}
      />
      <Button size="small" onClick={closeRunSet}>
        Close
      </Button>
    </div>
  );
}
