import classNames from "classnames/bind";
import { Button, Dropdown, Segmented, Select } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { valueAt, type Series } from "../../api/traces";
import { spaceOf, type Body, type Read } from "../../scene/bodies";
import { filmOf } from "../../scene/film";
import type { Meshes } from "../../scene/carried";
import { SceneDrawing, type Camera, type Label } from "../../scene/SceneDrawing";
import type { Shown } from "../../scene/SceneMarks";
import { notify, notifyError, useBench } from "../../state/bench";
import { goToPart } from "../../state/model";
import { tokens } from "../../ui/tokens";
import { download } from "../../api/download";
import { SceneViews, type SceneViewNode } from "./SceneViews";
import { useReplay } from "./useReplay";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** Instants at which the run is looked at for the size of the scene, forces and trails. */
const LOOKS = 400;

/** Frames a second of a motion that is saved. */
const FRAMES = 30;
const MOST_FRAMES = 6000;

const ink = {
  face: tokens.surface,
  edge: tokens.ink,
  chosen: tokens.buoy,
  quiet: tokens.line,
  steel: tokens.edge,
  oil: tokens.hydraulic,
  water: tokens.translational,
  land: tokens.hair,
  wood: tokens.caution,
  paper: tokens.paper,
  grid: tokens.hair,
  trail: tokens.translational,
};

const speeds = [0.01, 0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10, 100];

interface Props {
  bodies: readonly Body[];
  meshes: Meshes;
  series: ReadonlyMap<string, Series>;
  /** Where everything is now, of a run that is played; null for one that has been. */
  now: Read | null;
  title: string;
  views: readonly SceneViewNode[];
  keep?: (views: readonly SceneViewNode[]) => void;
}

let drawings = 0;

/** The scene itself: bodies where the time bar stands, cameras, what else is shown, replay and files. */
export default function SceneCanvas({ bodies, meshes, series, now, title, views, keep }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const host = useRef<HTMLDivElement>(null);
  const drawing = useRef<SceneDrawing | null>(null);
  const { time, end, start, selected, level } = useBench(
    useShallow((s) => ({
      time: s.time,
      end: Number(s.run?.end ?? 1),
      start: 0,
      selected: s.selection.size === 1 ? ([...s.selection][0] ?? null) : null,
      level: s.level,
    })),
  );
  const [camera, setCamera] = useState<Camera>("fixed");
  const hasChosen = useRef(false);
  const [shown, setShown] = useState<Shown>({ forces: false, trails: false, frames: false, centres: false });
  const [names, setNames] = useState(false);
  const [labels, setLabels] = useState<Label[]>([]);
  const replay = useReplay(start, end);
  const at = useMemo(() => (t: number) => readAt(series, t), [series]);
  const looks = useMemo(() => Array.from({ length: LOOKS + 1 }, (_, i) => at(start + ((end - start) * i) / LOOKS)), [at, start, end]);
  // Each drawing has a canvas of its own: what a context was left as by the one before would be carried into it.
  const drawn = useMemo(() => ({ bodies, looks, meshes, number: ++drawings }), [bodies, looks, meshes]);
  const chosen = selected === null ? null : level ? `${level}/${selected}` : selected;
  // What follows is read when the drawing is made anew, without making it anew itself.
  const latest = useRef({ time, end, camera, shown, names, chosen, now });
  latest.current = { time, end, camera, shown, names, chosen, now };

  useEffect(() => {
    if (!canvas.current || !host.current) return;
    let made: SceneDrawing;
    try {
      made = new SceneDrawing(canvas.current, drawn.bodies, drawn.looks, drawn.meshes, ink, () =>
        setLabels(labelsOf(drawing.current, latest.current)),
      );
    } catch {
      notifyError("This browser cannot draw in three dimensions. Switch WebGL on, or use another browser.");
      return;
    }
    drawing.current = made;
    if (!hasChosen.current && made.isWide) setCamera("follow");
    const watch = new ResizeObserver(([entry]) => entry && made.resize(entry.contentRect.width, entry.contentRect.height));
    watch.observe(host.current);
    made.show(latest.current.shown);
    made.setCamera(latest.current.camera);
    made.choose(latest.current.chosen);
    made.move(latest.current.now ?? at(latest.current.time ?? latest.current.end));
    return () => {
      watch.disconnect();
      drawing.current = null;
      made.dispose();
    };
  }, [drawn, at]);
  useEffect(() => drawing.current?.move(now ?? at(time ?? end)), [now, at, time, end]);
  useEffect(() => drawing.current?.setCamera(camera), [camera]);
  useEffect(() => drawing.current?.show(shown), [shown]);
  useEffect(() => drawing.current?.choose(chosen), [chosen]);
  useEffect(() => setLabels(labelsOf(drawing.current, { names, shown })), [names, shown]);

  const pick = (e: React.MouseEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    const part = drawing.current?.pick((e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height);
    if (part) void goToPart(part);
  };
  const toggle = (key: keyof Shown) => () => setShown((s) => ({ ...s, [key]: !s[key] }));
  const file = (ending: string) => `${title.replace(/[^\w -]/g, "")}.${ending}`;
  const picture = () => canvas.current?.toBlob((blob) => blob && download(blob, file("png")));
  const film = async () => {
    if (!canvas.current) return;
    const recording = filmOf(canvas.current);
    notify("The replay is being filmed.");
    await replay.play(true);
    download(await recording.stop(), file("webm"));
    useBench.setState({ notice: null });
  };
  const motion = async () => {
    const { motionFile } = await import("../../scene/motionFile");
    const frames = Math.min(MOST_FRAMES, Math.max(2, Math.ceil((end - start) * FRAMES)));
    const times = Array.from({ length: frames }, (_, i) => start + ((end - start) * i) / (frames - 1));
    const { least, most } = spaceOf(bodies, looks);
    const extent = Math.max(...most.map((m, k) => m - (least[k] as number)));
    download(await motionFile(bodies, times, times.map(at), ink, extent, meshes), file("glb"));
  };
  return (
    <div className={cx("scene")}>
      <div className={cx("scene-tools")} role="toolbar" aria-label="Scene">
        <Segmented<Camera>
          size="small"
          aria-label="Camera"
          value={camera}
          onChange={(camera) => {
            hasChosen.current = true;
            setCamera(camera);
          }}
          options={[
            { value: "fixed", label: "Fixed" },
            { value: "follow", label: "Follow" },
            { value: "orbit", label: "Orbit" },
          ]}
        />
        {(
          [
            ["forces", "Forces"],
            ["trails", "Trails"],
            ["frames", "Frames"],
            ["centres", "Centres"],
          ] as const
        ).map(([key, label]) => (
          <Button key={key} size="small" aria-pressed={shown[key]} className={cx({ pressed: shown[key] })} onClick={toggle(key)}>
            {label}
          </Button>
        ))}
        <Button size="small" aria-pressed={names} className={cx({ pressed: names })} onClick={() => setNames(!names)}>
          Names
        </Button>
        <SceneViews
          views={views}
          keep={keep}
          sight={() => drawing.current?.sight()}
          look={(view) => {
            hasChosen.current = true;
            setCamera("orbit");
            drawing.current?.setCamera("orbit");
            drawing.current?.lookFrom(view);
          }}
        />
        <span className={cx("tools")}>
          <Button
            size="small"
            aria-label={replay.isPlaying ? "Stop the replay" : "Replay"}
            onClick={() => (replay.isPlaying ? replay.stop() : void replay.play())}
          >
            {replay.isPlaying ? "Stop" : "Replay"}
          </Button>
          <Select
            size="small"
            aria-label="Speed of the replay"
            value={replay.speed}
            onChange={replay.setSpeed}
            options={speeds.map((s) => ({ value: s, label: s < 1 ? `1/${Math.round(1 / s)}` : `× ${s}` }))}
            popupMatchSelectWidth={false}
          />
          <Dropdown
            trigger={["click"]}
            menu={{
              items: [
                { key: "picture", label: "Save this picture", onClick: picture },
                { key: "film", label: "Save the replay as a film", onClick: () => void film() },
                { key: "motion", label: "Save bodies and motion (glTF)", onClick: () => void motion() },
              ],
            }}
          >
            <Button size="small" aria-label="Save the scene">
              Save
            </Button>
          </Dropdown>
        </span>
      </div>
      <div className={cx("scene-view")} ref={host}>
        <canvas key={drawn.number} ref={canvas} role="img" aria-label={`${title} at ${(time ?? end).toPrecision(4)} s`} onClick={pick} />
        {labels.map((l, i) =>
          l.part === undefined ? (
            <span key={i} className={cx("scene-figure")} style={placed(l)}>
              {l.text}
            </span>
          ) : (
            <Button
              key={l.part}
              type="text"
              size="small"
              className={cx("scene-name")}
              style={placed(l)}
              title="Show the part"
              onClick={() => void goToPart(l.part as string)}
            >
              {l.text}
            </Button>
          ),
        )}
      </div>
    </div>
  );
}

const placed = ({ x, y }: Label) => ({ left: `${100 * x}%`, top: `${100 * y}%` });

const nothing: Label[] = [];

function labelsOf(drawing: SceneDrawing | null, { names, shown }: { names: boolean; shown: Shown }): Label[] {
  if (!drawing || !(names || shown.forces)) return nothing;
  return [...(names ? drawing.names() : []), ...(shown.forces ? drawing.figures() : [])];
}

/** Signals of a run at an instant. */
function readAt(series: ReadonlyMap<string, Series>, time: number): Read {
  return (signal) => {
    const s = series.get(signal);
    return s ? valueAt(s, time) : NaN;
  };
}
