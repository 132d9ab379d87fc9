import classNames from "classnames/bind";
import { Button, Input, Segmented, Select, Upload } from "antd";
import { useEffect, useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask } from "../../api/client";
import type { Line } from "../../plots/curves";
import { Plot } from "../../plots/Plot";
import { extent } from "../../plots/ticks";
import { useBench } from "../../state/bench";
import { infoOf, learnSignals } from "../../state/signals";
import { parsePoints, pointsText, recordTrack, removeTrack, setTrack, snapped, type Track } from "../../state/stimuli";
import { tokens } from "../../ui/tokens";
import { CourseMaker } from "./CourseMaker";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** More points than these are too near to each other to be taken hold of. */
const MOST_HANDLES = 200;

/** The course that a track gives: smooth ones as the part that drives the run goes through the points. */
function useCourse(track: Track, end: number): readonly Line[] {
  const [x, y] = useMemo(() => [track.times.map(Number), track.values.map(Number)] as const, [track.times, track.values]);
  const last = Math.max(end, x.at(-1) ?? 0);
  const [smooth, setSmooth] = useState<{ of: Track; x: readonly number[]; y: readonly number[] } | null>(null);
  useEffect(() => {
    if (track.shape !== "smooth" || track.times.length < 2) return;
    let wanted = true;
    const parameters = { t: `{${track.times.join(", ")}}`, values: `{${track.values.join(", ")}}` };
    ask(api.POST("/api/courses", { body: { part: "SmoothPoints", parameters, end: last } })).then(
      (c) => wanted && setSmooth({ of: track, x: c.times.map(Number), y: c.values.map(Number) }),
      () => wanted && setSmooth(null),
    );
    return () => {
      wanted = false;
    };
  }, [track, last]);
  return useMemo(() => {
    if (track.shape === "smooth" && smooth?.of === track) return [{ x: smooth.x, y: smooth.y, color: tokens.translational }];
    // Before the first point and behind the last it keeps their values.
    return [
      {
        x: [0, ...x, last],
        y: [y[0] ?? 0, ...y, y.at(-1) ?? 0],
        color: tokens.translational,
        steps: track.shape === "steps" || track.shape === "set",
      },
    ];
  }, [track, smooth, x, y, last]);
}

/** One course of a stimulus: drawn, typed, taken from a run or made. */
export function TrackEditor({ stimulus, id, track }: { stimulus: string; id: string; track: Track }) {
  const { infos, end, run } = useBench(
    useShallow((s) => ({ infos: s.infos, end: Number(s.run?.end ?? 10), run: s.run && s.run.state !== "running" ? s.run.id : null })),
  );
  const [text, setText] = useState<string | null>(null);
  const [source, setSource] = useState<string | null>(null);
  const info = infoOf(infos, track.target);
  const known = info !== undefined;
  useEffect(() => {
    // Asked for once: what the server does not know is not asked for again and again.
    if (!known) void learnSignals([{ signal: track.target, unit: null }]).catch(() => undefined);
  }, [known, track.target]);
  const isSet = track.shape === "set";
  const put = (values: Partial<Track>) => setTrack(stimulus, id, values);
  const lines = useCourse(track, end);
  const range = useMemo(() => {
    const values = track.values.map(Number);
    return extent(Math.min(...values), Math.max(...values));
  }, [track.values]);
  const parsed = text === null ? null : parsePoints(text);
  const points = useMemo(
    () => (track.times.length <= MOST_HANDLES ? track.times.map((t, i) => ({ x: Number(t), y: Number(track.values[i]) })) : []),
    [track],
  );
  const at = (x: number, y: number) => [snapped(Math.max(0, x), end), snapped(y, range[1] - range[0])] as const;
  const without = (index: number) => ({
    times: track.times.filter((_, i) => i !== index).map(Number),
    values: track.values.filter((_, i) => i !== index).map(Number),
  });
  const withPoint = ({ times, values }: { times: number[]; values: number[] }, x: number, y: number) => {
    const [t, v] = at(x, y);
    const next = parsePoints(pointsText({ times: [...times, t], values: [...values, v] }));
    if (next) put(next);
  };
  return (
    <div className={cx("track")}>
      <div className={cx("apart-head")}>
        <b>{info?.view.label ?? track.target}</b>
        <Button type="link" size="small" onClick={() => removeTrack(stimulus, id)}>
          Remove
        </Button>
      </div>
      <div className={cx("apart")}>
        <Plot
          label={`Course of ${info?.view.label ?? track.target}`}
          lines={lines}
          x={[0, Math.max(end, Number(track.times.at(-1) ?? 0))]}
          y={range}
          unit={track.unit ?? ""}
          xUnit="s"
          showX
          handles={points}
          onPoint={(x, y) => withPoint({ times: track.times.map(Number), values: track.values.map(Number) }, x, y)}
          onHandle={(index, x, y) => withPoint(without(index), x, y)}
          onHandleRemove={(index) => track.times.length > 1 && put(without(index))}
        />
      </div>
      <div className={cx("acts")}>
        {isSet ? (
          <span className="quiet">Each value is set at its time, as by hand.</span>
        ) : (
          <Segmented
            size="small"
            aria-label="Between the points"
            value={track.shape}
            options={["steps", "lines", "smooth"]}
            onChange={(shape) => put({ shape: shape as Track["shape"] })}
          />
        )}
        {info && (info.units.length > 0 || track.unit) && (
          <Select
            size="small"
            aria-label="Unit of the values"
            value={track.unit ?? ""}
            onChange={(unit: string) => put({ unit: unit === "" ? undefined : unit })}
            options={[...new Set([track.unit ?? "", ...info.units])].map((u) => ({ value: u, label: u || "as the model computes" }))}
            popupMatchSelectWidth={false}
          />
        )}
        <Button size="small" onClick={() => setText(pointsText(track))}>
          Table
        </Button>
        <Button size="small" disabled={!run || isSet} onClick={() => run && void recordTrack(stimulus, id, run)}>
          From the run
        </Button>
        <Button size="small" onClick={() => setSource(source === null ? "Step" : null)}>
          Make
        </Button>
      </div>
      {text !== null && (
        <div>
          <Input.TextArea
            aria-label="Times and values"
            rows={6}
            value={text}
            spellCheck={false}
            onChange={(e) => setText(e.target.value)}
          />
          <div className={cx("acts")}>
            <Button
              size="small"
              type="primary"
              disabled={!parsed}
              onClick={() => {
                if (parsed) put(parsed);
                setText(null);
              }}
            >
              Take over
            </Button>
            <Upload
              accept=".csv,.txt,.tsv"
              showUploadList={false}
              beforeUpload={(file) => {
                void file.text().then(setText);
                return false;
              }}
            >
              <Button size="small">Read a file</Button>
            </Upload>
            <Button size="small" onClick={() => setText(null)}>
              Give up
            </Button>
            {!parsed && <span className={cx("problem")}>Each line is a time and a value.</span>}
          </div>
        </div>
      )}
      {source !== null && <CourseMaker source={source} onSource={setSource} end={end} take={(times, values) => put({ times, values })} />}
    </div>
  );
}
