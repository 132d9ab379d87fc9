import classNames from "classnames/bind";
import { Button, Dropdown, Input, Popover, Select } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { branchFrom, endPlay, goOn, leavePlay, PACES, pausePlay, saveState, setPace } from "../../state/play";
import { format } from "../../ui/format";
import styles from "./run.module.css";

const cx = classNames.bind(styles);

const paceText = (pace: number | null) => (pace === null ? "as fast as it goes" : `× ${pace}`);

/** How fast it goes, of a run that is played or of a replay. */
export function Pace() {
  const pace = useBench((s) => s.pace);
  return (
    <Select
      size="small"
      variant="borderless"
      className={cx("pace")}
      aria-label="Pace"
      popupMatchSelectWidth={false}
      value={String(pace)}
      onChange={(v) => void setPace(v === "null" ? null : Number(v))}
      options={PACES.map((p) => ({ value: String(p), label: p === null ? <span title={paceText(p)}>× max</span> : paceText(p) }))}
    />
  );
}

/** Plays a run by hand: go on, pause, step, keep a state, end. */
export function PlayControls() {
  const play = useBench(useShallow((s) => s.play));
  if (!play) return null;
  const running = play.state === "running";
  const over = play.state === "finished";
  return (
    <>
      {over ? (
        <Button type="primary" size="small" onClick={() => void leavePlay()}>
          Done
        </Button>
      ) : running ? (
        <Button type="primary" size="small" className={cx("play")} aria-label="Pause" onClick={() => void pausePlay()}>
          ▮▮
        </Button>
      ) : (
        <Button type="primary" size="small" className={cx("play")} aria-label="Go on" onClick={() => void goOn()}>
          ▶
        </Button>
      )}
      {!over && <Step disabled={running} />}
      {!over && <Pace />}
      <Kept />
      {!over && (
        <Button
          size="small"
          shape="round"
          className={cx("pill")}
          aria-label="End the run by hand"
          onClick={() => void endPlay().then(leavePlay)}
        >
          end
        </Button>
      )}
      <span className={cx("dim", "hand")} role="status">
        {running ? `× ${format(play.truePace, 2)}` : over ? "over" : (reasons[play.reason ?? ""] ?? play.reason ?? "paused")}
      </span>
    </>
  );
}

const reasons: Record<string, string> = {
  event: "at an event",
  tick: "at a sample",
  condition: "it holds",
  time: "paused",
  asked: "paused",
  end: "paused",
  failure: "paused",
};

/** One step, of the kind that is wanted. */
function Step({ disabled }: { disabled: boolean }) {
  const [asking, setAsking] = useState<"time" | "condition" | null>(null);
  const [text, setText] = useState("");
  const take = () => {
    if (text.trim() === "") return;
    if (asking === "time") void goOn({ time: Number(text.replace(/\s*s$/, "")) });
    else void goOn({ condition: text });
    setAsking(null);
  };
  return (
    <Popover
      open={asking !== null}
      trigger={[]}
      destroyOnHidden
      placement="topLeft"
      content={
        <div className={cx("until")}>
          <label>
            {asking === "time" ? "Pause at, s" : "Pause when this comes to hold"}
            <Input
              size="small"
              autoFocus
              key={asking}
              aria-label={asking === "time" ? "Pause at" : "Pause when"}
              placeholder={asking === "time" ? "12.5" : "depth > 12"}
              value={text}
              onChange={(e) => setText(e.target.value)}
              onPressEnter={take}
              onKeyDown={(e) => e.key === "Escape" && setAsking(null)}
            />
          </label>
          <Button size="small" type="primary" onClick={take}>
            Go on
          </Button>
        </div>
      }
    >
      <Dropdown
        trigger={["click"]}
        disabled={disabled}
        menu={{
          items: [
            { key: "sample", label: "To the next sample", onClick: () => void goOn({ step: "sample" }) },
            { key: "event", label: "To the next event", onClick: () => void goOn({ step: "event" }) },
            { key: "time", label: "To a time…", onClick: () => (setText(""), setAsking("time")) },
            { key: "condition", label: "Until a condition holds…", onClick: () => (setText(""), setAsking("condition")) },
          ],
        }}
      >
        <Button size="small" shape="round" className={cx("pill")} aria-label="Step">
          step
        </Button>
      </Dropdown>
    </Popover>
  );
}

/** States that were kept. */
function Kept() {
  const saved = useBench((s) => s.play?.saved) ?? [];
  const state = useBench((s) => s.play?.state);
  return (
    <Dropdown
      trigger={["click"]}
      menu={{
        items: [
          { key: "keep", label: "Keep this state", disabled: state !== "paused", onClick: () => void saveState() },
          ...saved.map((s) => ({
            key: s.id,
            label: `Go on from ${s.name}`,
            disabled: state === "running",
            onClick: () => void branchFrom(s.id),
          })),
        ],
      }}
    >
      <Button size="small" shape="round" className={cx("pill")} aria-label={`states${saved.length > 0 ? ` ${saved.length}` : ""}`}>
        states{saved.length > 0 ? ` ${saved.length}` : ""}
      </Button>
    </Dropdown>
  );
}
