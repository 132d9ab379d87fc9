import classNames from "classnames/bind";
import { Button, Popover } from "antd";
import { useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { canChoose, pointer } from "../../state/document";
import { cancelRun, setTime, startRun } from "../../state/runs";
import { edit } from "../../state/model";
import { notify, runSettings, useBench } from "../../state/bench";
import { beginPlay, toggleReplay } from "../../state/play";
import { format } from "../../ui/format";
import { Pace, PlayControls } from "./PlayControls";
import { AlertMarks } from "./AlertMarks";
import { AlternativesForm } from "./AlternativesForm";
import { RunReport } from "./RunReport";
import { RunSettingsForm } from "./RunSettingsForm";
import { VerdictMarks } from "./VerdictMarks";
import styles from "./run.module.css";

const cx = classNames.bind(styles);

/** Runs, scrubs and replays; its marks are events, alerts and missed requirements. */
export function TimeBar() {
  const { run, progress, time, live, canRun, play, replaying } = useBench(
    useShallow((s) => ({
      run: s.run,
      progress: s.progress,
      time: s.time,
      live: runSettings(s).live,
      canRun: s.view.canRun,
      play: s.play !== null,
      replaying: s.replaying,
    })),
  );
  const track = useRef<HTMLDivElement>(null);
  const [open, setOpen] = useState(false);
  const [report, setReport] = useState(false);
  const [choosing, setChoosing] = useState(false);
  const hasAlternatives = useBench((s) => canChoose(s.model));
  const end = run ? run.end : 0;
  const running = run?.state === "running" || progress !== null;
  const part = running ? (progress?.part ?? run?.part ?? 0) : 0;
  const toTime = (clientX: number) => {
    const box = track.current?.getBoundingClientRect();
    if (!box || end <= 0) return;
    setTime(Math.min(end, Math.max(0, ((clientX - box.left) / box.width) * end)));
  };
  // A tick for every event would be a bar where there are many.
  const events = useMemo(
    () => (run?.events ?? []).filter((e, i, all) => i === 0 || e.time - Number(all[i - 1]?.time) > end / 300),
    [run, end],
  );
  const stats = run?.statistics;

  return (
    <section className={cx("bar")} aria-label="Time bar">
      {play ? (
        <PlayControls />
      ) : running ? (
        <Button type="primary" size="small" className={cx("play")} aria-label="Cancel the run" onClick={() => void cancelRun()}>
          ■
        </Button>
      ) : (
        <Button type="primary" size="small" className={cx("play")} aria-label="Run" disabled={!canRun} onClick={() => void startRun()}>
          ▶
        </Button>
      )}
      {!play && (
        <>
          <Button
            type="text"
            size="small"
            className={cx("replay")}
            aria-label={replaying ? "Stop the replay" : "Replay"}
            title="Replays the run along the time bar"
            disabled={!run || running}
            onClick={toggleReplay}
          >
            {replaying ? "▮▮" : "▷"}
          </Button>
          <Pace />
          <Button
            size="small"
            shape="round"
            className={cx("pill")}
            disabled={!canRun || running}
            title="Play a run by hand: step, pause, set values on the way"
            onClick={() => void beginPlay()}
          >
            by hand
          </Button>
        </>
      )}
      {!play && hasAlternatives && (
        <Popover
          open={choosing}
          onOpenChange={setChoosing}
          trigger="click"
          placement="topLeft"
          destroyOnHidden
          content={<AlternativesForm onStarted={() => setChoosing(false)} />}
        >
          <Button size="small" shape="round" className={cx("settings")} disabled={!canRun}>
            alternatives
          </Button>
        </Popover>
      )}
      <span className={cx("mono", "read")}>
        <b>{time === null ? "–" : time.toFixed(end >= 1000 ? 0 : 3)}</b> <span className={cx("dim")}>of {format(end)} s</span>
      </span>
      <div
        className={cx("track")}
        ref={track}
        role="slider"
        tabIndex={0}
        aria-label="Instant shown"
        aria-valuemin={0}
        aria-valuemax={end}
        aria-valuenow={time ?? 0}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          toTime(e.clientX);
        }}
        onPointerMove={(e) => e.buttons === 1 && toTime(e.clientX)}
        onKeyDown={(e) => {
          const by = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10 }[e.key];
          if (by) setTime(Math.min(end, Math.max(0, (time ?? 0) + (by * end) / 200)));
          else if (e.key === "Home") setTime(0);
          else if (e.key === "End") setTime(end);
          else if (e.key === "Escape") setTime(null);
          else return;
          e.preventDefault();
        }}
      >
        <div className={cx("rail-line")} />
        {running && <div className={cx("done")} style={{ width: `${part * 100}%` }} />}
        {!running && time !== null && <div className={cx("done")} style={{ width: `${(time / end) * 100}%` }} />}
        {events.map((e) => (
          <i
            key={`${e.time}${e.what}`}
            className={cx("mark")}
            title={`${format(e.time, 6)} s: ${e.part} ${e.what}`}
            style={{ left: `${(e.time / end) * 100}%` }}
            onPointerDown={(p) => {
              p.stopPropagation();
              setTime(Number(e.time));
              notify(`${format(e.time, 6)} s: ${e.part} ${e.what}`);
            }}
          />
        ))}
        <VerdictMarks end={end} />
        <AlertMarks end={end} />
        {time !== null && <span className={cx("knob")} style={{ left: `${(time / end) * 100}%` }} />}
      </div>
      <Popover trigger="click" placement="topRight" open={report} onOpenChange={setReport} content={run ? <RunReport run={run} /> : null}>
        <Button type="text" size="small" className={cx("mono", "dim", "took")} disabled={!run} title="How the run went">
          <span className="unseen">Run statistics </span>
          {running
            ? `${Math.round(part * 100)} %${progress?.left ? ` · ${format(progress.left, 2)} s left` : ""}`
            : stats
              ? `${format((stats.runSeconds ?? 0) * 1000, 2)} ms`
              : ""}
        </Button>
      </Popover>
      <Popover
        open={open}
        onOpenChange={setOpen}
        trigger="click"
        placement="topRight"
        content={
          <div role="dialog" aria-label="Run settings">
            <RunSettingsForm />
          </div>
        }
      >
        <Button size="small" shape="round" className={cx("settings")} aria-label="Run settings">
          settings
        </Button>
      </Popover>
      <Button
        size="small"
        shape="round"
        className={cx("live", { on: live })}
        aria-pressed={live}
        aria-label={live ? "Live: every edit runs the model" : "Live is off: edits do not run the model"}
        onClick={() => edit("Live", [{ op: "replace", path: pointer("settings", "live"), value: !live }])}
      >
        <u /> live
      </Button>
    </section>
  );
}
