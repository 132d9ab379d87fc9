import classNames from "classnames/bind";
import { Button, Input, Radio, Segmented, Select } from "antd";
import { useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask } from "../../api/client";
import { fetchTraces } from "../../api/traces";
import { Plot } from "../../plots/Plot";
import { extent } from "../../plots/ticks";
import { notifyError, runSettings, useBench } from "../../state/bench";
import { findSignals, infoOf, learnSignals } from "../../state/signals";
import {
  addStimulus,
  addTrack,
  drives,
  parsePoints,
  pointsText,
  removeStimulus,
  removeTrack,
  renameStimulus,
  setTrack,
  snapped,
  type Track,
} from "../../state/stimuli";
import { tokens } from "../../ui/tokens";
import { TextField } from "../../ui/TextField";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** Courses that drive sources and inputs: which of them drives the runs, and their points. */
export function StimulusPanel() {
  const { stimuli, chosen } = useBench(useShallow((s) => ({ stimuli: s.model.stimuli, chosen: runSettings(s).stimulus })));
  const [open, setOpen] = useState<string | null>(null);
  const shown = open && stimuli[open] ? open : chosen && stimuli[chosen] ? chosen : Object.keys(stimuli)[0];
  return (
    <section aria-label="Stimuli">
      <Radio.Group
        aria-label="What drives the runs"
        value={chosen}
        onChange={(e) => drives(e.target.value as string)}
        className={cx("stimuli")}
        options={[
          { value: "", label: "the model’s own sources" },
          ...Object.entries(stimuli).map(([id, s]) => ({ value: id, label: s.name })),
        ]}
      />
      <div className={cx("acts")}>
        <Button size="small" onClick={() => setOpen(addStimulus())}>
          New stimulus
        </Button>
        {Object.keys(stimuli).length > 1 && (
          <Select
            size="small"
            aria-label="Stimulus to edit"
            value={shown}
            onChange={setOpen}
            options={Object.entries(stimuli).map(([id, s]) => ({ value: id, label: s.name }))}
          />
        )}
      </div>
      {shown && stimuli[shown] && <Stimulus key={shown} id={shown} />}
    </section>
  );
}

function Stimulus({ id }: { id: string }) {
  const node = useBench((s) => s.model.stimuli[id]);
  const [options, setOptions] = useState<{ value: string; label: string }[]>([]);
  const search = (text: string) =>
    void findSignals({ search: text, limit: 40 }).then((f) =>
      setOptions(f.signals.map((s) => ({ value: s.reference, label: `${s.label}${s.part ? ` · ${s.part}` : ""}` }))),
    );
  if (!node) return null;
  return (
    <div className={cx("stimulus")}>
      <div className={cx("apart-head")}>
        <TextField label="Name of the stimulus" title value={node.name} commit={(name) => renameStimulus(id, name)} />
        <Button type="link" size="small" onClick={() => removeStimulus(id)}>
          Remove
        </Button>
      </div>
      {Object.entries(node.tracks).map(([track, t]) => (
        <TrackEditor key={track} stimulus={id} id={track} track={t} />
      ))}
      <Select
        size="small"
        showSearch
        filterOption={false}
        value={null}
        aria-label="Signal of a new track"
        placeholder="Drive a source or an input…"
        className={cx("wide-select")}
        options={options}
        onFocus={() => search("")}
        onSearch={search}
        onChange={(signal: string | null) => signal && addTrack(id, signal)}
      />
    </div>
  );
}

function TrackEditor({ stimulus, id, track }: { stimulus: string; id: string; track: Track }) {
  const { infos, end, run } = useBench(
    useShallow((s) => ({ infos: s.infos, end: Number(s.run?.end ?? 10), run: s.run && s.run.state !== "running" ? s.run.id : null })),
  );
  const [text, setText] = useState<string | null>(null);
  const [source, setSource] = useState<string | null>(null);
  const info = infoOf(infos, track.target);
  if (!info) void learnSignals([{ signal: track.target, unit: null }]).catch(() => undefined);
  const put = (values: Partial<Track>) => setTrack(stimulus, id, values);
  const lines = useMemo(() => {
    const [x, y] = [track.times.map(Number), track.values.map(Number)];
    // Before the first point and behind the last it keeps their values.
    const last = Math.max(end, x.at(-1) ?? 0);
    return [{ x: [0, ...x, last], y: [y[0] ?? 0, ...y, y.at(-1) ?? 0], color: tokens.translational, steps: track.shape === "steps" }];
  }, [track, end]);
  const range = useMemo(() => {
    const values = track.values.map(Number);
    return extent(Math.min(...values), Math.max(...values));
  }, [track.values]);
  const parsed = text === null ? null : parsePoints(text);
  const record = async () => {
    if (!run) return;
    const curve = (await fetchTraces(run, [track.target], null, null, 250)).get(track.target);
    if (curve && curve.times.length > 0) put({ times: [...curve.times], values: [...curve.values], unit: undefined });
    else notifyError("The present run has nothing of this signal.");
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
          unit={track.unit ?? info?.view.unit ?? ""}
          xUnit="s"
          showX
          onPoint={(x, y) => {
            const [t, v] = [snapped(Math.max(0, x), end), snapped(y, range[1] - range[0])];
            const next = parsePoints(pointsText({ times: [...track.times, t], values: [...track.values, v] }));
            if (next) put(next);
          }}
        />
      </div>
      <Segmented
        size="small"
        aria-label="Between the points"
        value={track.shape}
        options={["steps", "lines", "smooth"]}
        onChange={(shape) => put({ shape: shape as Track["shape"] })}
      />
      <Button size="small" onClick={() => setText(pointsText(track))}>
        Table
      </Button>
      <Button size="small" disabled={!run} onClick={() => void record()}>
        From the run
      </Button>
      <Button size="small" onClick={() => setSource(source === null ? "Step" : null)}>
        Make
      </Button>
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
            <Button size="small" onClick={() => setText(null)}>
              Give up
            </Button>
            {!parsed && <span className={cx("problem")}>Each line is a time and a value.</span>}
          </div>
        </div>
      )}
      {source !== null && <Maker source={source} onSource={setSource} end={end} take={(times, values) => put({ times, values })} />}
    </div>
  );
}

/** Makes a course as one of the catalog's sources gives it. */
function Maker({
  source,
  onSource,
  end,
  take,
}: {
  source: string;
  onSource: (s: string) => void;
  end: number;
  take: (times: number[], values: number[]) => void;
}) {
  const catalog = useBench((s) => s.catalog);
  const sources = useMemo(() => [...catalog.values()].filter((p) => p.group === "Sources" && p.ports.length === 1), [catalog]);
  const part = catalog.get(source);
  const [values, setValues] = useState<Record<string, string>>({});
  const make = async () => {
    try {
      const course = await ask(api.POST("/api/courses", { body: { part: source, parameters: values, end } }));
      take(course.times.map(Number), course.values.map(Number));
    } catch (e) {
      notifyError((e as Error).message);
    }
  };
  return (
    <div>
      <Select
        size="small"
        aria-label="Kind of course"
        className={cx("wide-select")}
        value={source}
        onChange={(s: string) => {
          onSource(s);
          setValues({});
        }}
        options={sources.map((p) => ({ value: p.name, label: p.title }))}
      />
      {(part?.parameters ?? []).map((p) => (
        <div key={source + p.name} className={cx("setting")}>
          <span>{p.description ?? p.name}</span>
          <TextField
            label={p.description ?? p.name}
            value={values[p.name] ?? p.default ?? ""}
            commit={(text) => setValues({ ...values, [p.name]: text })}
          />
        </div>
      ))}
      <Button size="small" type="primary" onClick={() => void make()}>
        Make the course
      </Button>
    </div>
  );
}
