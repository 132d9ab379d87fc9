import classNames from "classnames/bind";
import { useEffect, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { boxOf, isSmall, outerFirst, pathOf, waysOf, type Box } from "../../../canvas/chart/geometry";
import { kindsOf } from "../../../canvas/chart/labels";
import { IDLE, rectangle, sized, stateAt, withInner, type Tool } from "../../../canvas/chart/tools";
import { stopKey, useBench } from "../../../state/bench";
import { addState } from "../../../state/charts";
import type { Chart, ChartState } from "../../../state/document";
import { useViewport, type Content } from "../../../canvas/useViewport";
import { ChartCoverage } from "./ChartCoverage";
import { ChartToolbar } from "./ChartToolbar";
import { chartKeys } from "./chartKeys";
import { ConnectTo } from "./ConnectTo";
import { NameCard } from "./NameCard";
import { StateShape } from "./States";
import { TransitionShape } from "./Transitions";
import { useChartGestures } from "./useChartGestures";
import { useTaken } from "./useTaken";
import styles from "./chart.module.css";

const cx = classNames.bind(styles);

const nothing = () => {};

/** How a chart looks while something is dragged. */
function shown(chart: Chart, tool: Tool): Chart {
  if (tool.kind === "move" && (tool.dx !== 0 || tool.dy !== 0)) {
    const states = { ...chart.states };
    for (const id of withInner(chart, tool.ids)) {
      const s = states[id];
      if (s) states[id] = { ...s, x: s.x + tool.dx, y: s.y + tool.dy };
    }
    return { ...chart, states };
  }
  const state = tool.kind === "size" ? chart.states[tool.id] : undefined;
  if (tool.kind === "size" && state) return { ...chart, states: { ...chart.states, [tool.id]: { ...state, ...sized(state, tool) } } };
  const bent = tool.kind === "bend" && tool.moved ? chart.transitions[tool.transition] : undefined;
  if (tool.kind === "bend" && bent)
    return { ...chart, transitions: { ...chart.transitions, [tool.transition]: { ...bent, bends: [tool.at] } } };
  return chart;
}

/** A state chart: drawn, edited, and lit while it runs. */
export function ChartCanvas() {
  const { chart, selection, view, values, level, model, stops, counts } = useBench(
    useShallow((s) => ({
      chart: s.chart as Chart,
      selection: s.selection,
      view: s.view,
      values: s.values,
      level: s.level,
      model: s.id,
      stops: s.stops,
      counts: s.chartCounts,
    })),
  );
  const host = useRef<HTMLDivElement>(null);
  const world = useRef<HTMLDivElement>(null);
  const onShow = useRef(nothing);
  const [tool, setTool] = useState<Tool>(IDLE);
  const [connecting, setConnecting] = useState<string | null>(null);
  const content = useMemo<Content>(
    () => ({
      boxes: () => Object.values(chart.states).map((s) => ({ ...boxOf(s), y: boxOf(s).y - 24, height: boxOf(s).height + 24 })),
      boxOf: (id) => {
        const state = chart.states[id] ?? chart.states[chart.transitions[id]?.from ?? ""];
        return state ? boxOf(state) : null;
      },
    }),
    [chart],
  );
  const viewing = useViewport(host, world, content, `${model} ${level}`, onShow);
  const gestures = useChartGestures(tool, setTool, { host, view: viewing, chart, selection, onBegin: () => setConnecting(null) });
  const drawn = useMemo(() => shown(chart, tool), [chart, tool]);
  const kinds = useMemo(() => kindsOf(chart), [chart]);
  const ways = useMemo(() => waysOf(drawn), [drawn]);
  const order = useMemo(() => outerFirst(drawn), [drawn]);
  const taken = useTaken();
  const flags = useMemo(() => {
    const result: Record<string, string> = {};
    for (const f of view.findings) if (f.part?.startsWith(`${level}/`)) result[f.part.slice(level.length + 1)] = f.severity;
    return result;
  }, [view.findings, level]);
  const of = view.chart;
  const target = tool.kind === "move" ? tool.into : tool.kind === "draw" || tool.kind === "turn" ? tool.target : null;
  const isActive = (id: string) => values.get(of?.states[id] ?? "") === 1;

  const place = () => {
    const at = gestures.pointerAt.current;
    addState("state", at, stateAt(chart, at));
  };
  const connect = () => {
    const [only] = selection;
    if (only && chart.states[only]) setConnecting(only);
  };
  const key = useRef<(e: KeyboardEvent) => void>(nothing);
  useEffect(() => {
    key.current = chartKeys(() => ({
      view: viewing,
      cancel: () => {
        const busy = tool.kind !== "idle" || connecting !== null;
        setTool(IDLE);
        setConnecting(null);
        return busy;
      },
      place,
      connect,
    }));
  });
  useEffect(() => host.current?.focus({ preventScroll: true }), []);

  return (
    <div
      className={cx("chart", tool.kind)}
      ref={host}
      tabIndex={0}
      role="application"
      aria-label="State chart. / places a state, full stop draws a transition, Page Down goes through states, arrow keys move."
      onPointerDown={gestures.down}
      onPointerMove={gestures.move}
      onPointerUp={gestures.up}
      onKeyDown={(e) => host.current?.contains(e.target as Node) && key.current(e.nativeEvent)}
      onContextMenu={(e) => e.preventDefault()}
      onDoubleClick={(e) => {
        if ((e.target as Element).closest("[data-ui], [data-transition]")) return;
        const on = (e.target as HTMLElement).closest<HTMLElement>("[data-state]")?.dataset.state ?? null;
        const inside = on === null || Object.values(chart.states).some((s) => s.parent === on);
        if (inside) addState("state", viewing.toDiagram(e), on);
        else window.document.querySelector<HTMLElement>("[aria-label=Inspector] input")?.focus();
      }}
    >
      <div className={cx("world")} ref={world}>
        <svg width="1" height="1">
          <defs>
            {(["chart-head", "chart-head-lit"] as const).map((id) => (
              <marker
                key={id}
                id={id}
                viewBox="0 0 10 10"
                refX="9"
                refY="5"
                markerWidth="9"
                markerHeight="9"
                markerUnits="userSpaceOnUse"
                orient="auto"
              >
                <path d="M0 1.5L10 5L0 8.5z" fill={id === "chart-head" ? "var(--ink)" : "var(--buoy)"} />
              </marker>
            ))}
          </defs>
          {order.map((id) => {
            const state = drawn.states[id] as ChartState;
            return (
              <StateShape
                key={id}
                id={id}
                state={state}
                kinds={kinds}
                active={isActive(id)}
                selected={selection.has(id)}
                target={target === id}
                isOuter={Object.values(drawn.states).some((s) => s.parent === id)}
                isRegion={drawn.states[state.parent ?? ""]?.kind === "parallel"}
                flag={flags[id]}
                stops={stops.has(stopKey(level, id)) || stops.has(stopKey(level, id, "exit"))}
              />
            );
          })}
          {Object.entries(of?.first ?? {}).map(([owner, first]) => (
            <FirstDot key={owner} box={firstBox(drawn, owner, first)} />
          ))}
          {Object.entries(drawn.transitions).map(([id, t]) => {
            const way = ways.get(id);
            if (!way) return null;
            const many = Object.values(drawn.transitions).filter((o) => o.from === t.from).length > 1;
            return (
              <TransitionShape
                key={id}
                id={id}
                transition={t}
                way={way}
                kinds={kinds}
                selected={selection.has(id)}
                place={many ? Number(of?.places[id] ?? 0) || null : null}
                flag={flags[id]}
                stops={stops.has(stopKey(level, id)) || stops.has(stopKey(level, id, "exit"))}
                taken={taken.get(id)?.flashes ?? 0}
                count={counts ? (taken.get(id)?.count ?? null) : null}
              />
            );
          })}
          <ChartCoverage chart={drawn} ways={ways} />
          {tool.kind === "draw" && <Draft chart={drawn} from={tool.from} to={tool.at} />}
          {tool.kind === "turn" && <Draft chart={drawn} from={drawn.transitions[tool.transition]?.from ?? ""} to={tool.at} />}
          {tool.kind === "band" && <rect {...rectangle(tool.start, tool.at)} className={cx("band")} />}
        </svg>
      </div>
      <div className="unseen" role="status">
        {[...selection].map((id) => chart.states[id]?.name ?? (chart.transitions[id] ? "Transition" : "")).join(", ")}
      </div>
      <ChartToolbar onPlace={place} onFit={viewing.fit} at={() => gestures.pointerAt.current} />
      <NameCard host={host} kinds={kinds} />
      {connecting && (
        <ConnectTo
          from={connecting}
          onClose={() => {
            setConnecting(null);
            host.current?.focus({ preventScroll: true });
          }}
        />
      )}
      <div className={cx("styles")} aria-hidden>
        names: <span>input</span>
        <span className={cx("is-output")}>output</span>
        <span className={cx("is-local")}>local</span>
        <span className={cx("is-parameter")}>parameter</span>
        <span className={cx("is-event")}>event</span>
        <span className={cx("is-word")}>word</span>
      </div>
      <div className={cx("zoom", "mono")}>{Math.round(viewing.zoom * 100)} %</div>
    </div>
  );
}

/** The box of what is entered first; none where there is nothing to choose from. */
function firstBox(chart: Chart, owner: string, first: string): Box | null {
  const state = chart.states[first];
  const around = chart.states[owner];
  if (!state || (around && isSmall(around))) return null;
  return boxOf(state);
}

/** The filled dot with the way to the state that is entered first. */
function FirstDot({ box }: { box: Box | null }) {
  if (!box) return null;
  const x = box.x + box.width - Math.min(22, box.width / 3);
  return (
    <g pointerEvents="none">
      <circle cx={x} cy={box.y - 22} r={5} className={cx("first")} />
      <path d={`M${x} ${box.y - 17}V${box.y}`} className={cx("first-line")} markerEnd="url(#chart-head)" />
    </g>
  );
}

function Draft({ chart, from, to }: { chart: Chart; from: string; to: { x: number; y: number } }) {
  const state = chart.states[from];
  if (!state) return null;
  const b = boxOf(state);
  const m = { x: b.x + b.width / 2, y: b.y + b.height / 2 };
  const way = { from: m, c1: m, c2: to, to, label: m, anchor: "middle" as const, side: "beside" as const };
  return <path d={pathOf(way)} className={cx("draft")} markerEnd="url(#chart-head)" pointerEvents="none" />;
}
