import classNames from "classnames/bind";
import { Spin } from "antd";
import { lazy, Suspense, useEffect, useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { fetchTraces, type Series } from "../../api/traces";
import { notKept, signalsOf, type Body, type Read } from "../../scene/bodies";
import { useBench } from "../../state/bench";
import { isPlaying } from "../../state/play";
import { useMeshes } from "./useMeshes";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** Drawing in three dimensions is large, so it comes when a scene is first shown. */
const SceneCanvas = lazy(() => import("./SceneCanvas"));

type SceneViewNode = Schemas["SceneViewNode"];

const nothing: ReadonlyMap<string, Series> = new Map();

/** Points of each signal of a run that a scene moves by. */
const POINTS = 2000;

/** Signals that are asked for at once: their names stand in the address, which has a limit. */
const LOT = 60;

/** How often, and after how many ms, a run is asked again that has nothing to give yet. */
const TRIES = 100,
  PAUSE = 200;

async function fetchLot(run: string, signals: readonly string[], isWanted: () => boolean): Promise<ReadonlyMap<string, Series>> {
  for (let i = 0; i < TRIES && isWanted(); i++) {
    const found = await fetchTraces(run, signals, null, null, POINTS);
    if (found.size > 0) return found;
    await new Promise((done) => setTimeout(done, PAUSE));
  }
  throw new Error("The run gives no values. Run the model again.");
}

async function fetchMotion(run: string, signals: readonly string[], isWanted: () => boolean): Promise<ReadonlyMap<string, Series>> {
  const all = new Map<string, Series>();
  for (let i = 0; i < signals.length && isWanted(); i += LOT)
    for (const [signal, series] of await fetchLot(run, signals.slice(i, i + LOT), isWanted)) all.set(signal, series);
  return all;
}

interface Props {
  title: string;
  /** Places it was looked at from before. */
  views: readonly SceneViewNode[];
  /** Keeps other ones; undefined where there is no place to keep them. */
  keep?: (views: readonly SceneViewNode[]) => void;
}

/** The bodies of the model as the present run moves them. */
export default function SceneTile({ title, views, keep }: Props) {
  const { id, run, revision, isRunning, canRun } = useBench(
    useShallow((s) => ({
      id: s.id,
      run: s.run?.id ?? null,
      revision: s.view.revision,
      isRunning: s.progress !== null || s.run?.state === "running",
      canRun: s.view.canRun,
    })),
  );
  const [bodies, setBodies] = useState<readonly Body[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [moved, setMoved] = useState<{ run: string; series: ReadonlyMap<string, Series> } | null>(null);
  useEffect(() => {
    let isWanted = true;
    ask(api.GET("/api/models/{id}/scene", { params: { path: { id } } }))
      .then((scene) => isWanted && (setBodies(scene.bodies as readonly Body[]), setProblem(null)))
      .catch((e: Error) => isWanted && setProblem(e.message));
    return () => void (isWanted = false);
  }, [id, revision]);
  // A run that is played tells where everything is with each of its frames.
  const playing = useBench((s) => isPlaying(s));
  const readings = useBench((s) => s.readings);
  useEffect(() => {
    if (run === null || bodies === null || bodies.length === 0 || isRunning || playing) return;
    let isWanted = true;
    fetchMotion(run, signalsOf(bodies), () => isWanted)
      .then((series) => isWanted && (setMoved({ run, series }), setProblem(null)))
      .catch((e: Error) => isWanted && setProblem(e.message));
    return () => void (isWanted = false);
  }, [run, bodies, isRunning, playing]);
  const { meshes, share } = useMeshes(bodies);
  useEffect(() => {
    if (bodies === null) return;
    useBench.setState({ sceneSignals: signalsOf(bodies) });
    return () => useBench.setState({ sceneSignals: [] });
  }, [bodies]);
  const now = useMemo<Read | null>(() => (playing ? (signal) => readings.get(signal) ?? NaN : null), [playing, readings]);
  if (problem) return <p className={cx("tile-empty")}>{problem}</p>;
  if (bodies === null) return <Wait />;
  if (bodies.length === 0)
    return (
      <p className={cx("tile-empty")}>
        {canRun
          ? "Nothing here has a shape yet: place bodies of the group Mechanisms."
          : "The model has findings to mend first: until then nobody knows where its bodies are."}
      </p>
    );
  if (share !== null) return <Progress share={share} />;
  if (!playing && moved?.run !== run) return run === null ? <p className={cx("tile-empty")}>Run the model to see it move.</p> : <Wait />;
  const lost = playing ? [] : notKept(bodies, moved?.series ?? nothing);
  if (lost.length > 0)
    return (
      <p className={cx("tile-empty")}>
        This run has not kept where these are: {lost.slice(0, 5).join(", ")}. Record all signals, and run again.
      </p>
    );
  return (
    <Suspense fallback={<Wait />}>
      <SceneCanvas bodies={bodies} meshes={meshes} series={moved?.series ?? nothing} now={now} title={title} views={views} keep={keep} />
    </Suspense>
  );
}

/** How much of the meshes has come. */
const Progress = ({ share }: { share: number }) => (
  <div className={cx("tile-empty")} role="status">
    {Math.round(100 * share)} % of the meshes
  </div>
);

const Wait = () => (
  <div className={cx("tile-empty")}>
    <Spin size="small" aria-label="The scene is being made" />
  </div>
);
