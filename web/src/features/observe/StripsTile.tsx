import classNames from "classnames/bind";
import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { limitRules } from "../../plots/limitRules";
import { Plot, type Mark, type Range } from "../../plots/Plot";
import { useBench } from "../../state/bench";
import { goToRange } from "../../state/observe";
import { newId } from "../../state/document";
import { setAxis, setTile, stripOf, TIME_UNITS, type Tile } from "../../state/plotSheets";
import { setTime } from "../../state/runs";
import { tokens } from "../../ui/tokens";
import { Legend } from "./Legend";
import { useTileLines, type Shown } from "./useTileLines";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

const fit = () => goToRange(null);

/** So many events are drawn through the strips, with what happened; more of them are marked at the upper edge. */
const MOST_EVENTS = 12;

const noEvents: never[] = [];

/** Strips over one axis of time. */
export function StripsTile({ id, tile, wide }: { id: string; tile: Tile; wide: boolean }) {
  const shown = useTileLines(tile);
  const { range, end, time, mark, changes } = useBench(
    useShallow((s) => ({ range: s.range, end: Number(s.run?.end ?? 1), time: s.time, mark: s.mark, changes: s.run?.events })),
  );
  const x = useMemo<Range>(() => (range ? [range.from, range.to] : [0, end]), [range, end]);
  const marks = useMemo<Mark[]>(
    () => [
      ...(mark === null ? [] : [{ at: mark, color: tokens.ink, label: "a" }]),
      ...(time === null ? [] : [{ at: time, color: tokens.buoy, ...(mark === null ? {} : { label: "b" }) }]),
    ],
    [mark, time],
  );
  const { events, ticks } = useMemo(() => {
    const seen = (changes ?? []).filter((e) => Number(e.time) >= x[0] && Number(e.time) <= x[1]);
    // What somebody set is told in any case.
    const told = seen.length > MOST_EVENTS ? seen.filter((e) => e.isChange) : seen;
    return {
      ticks: seen.map((e) => Number(e.time)),
      events: told.slice(0, MOST_EVENTS).map((e) => ({
        at: Number(e.time),
        text: e.isChange ? e.what.slice(e.what.lastIndexOf(".", e.what.indexOf(" =")) + 1) : e.what.replaceAll(`${e.part}.`, ""),
      })),
    };
  }, [changes, x]);
  const strips = useMemo(() => {
    const count = Math.max(0, ...shown.map((s) => s.node.strip)) + 1;
    return Array.from({ length: count }, (_, i) => shown.filter((s) => s.node.strip === i));
  }, [shown]);
  const hasRight = shown.some((s) => s.node.onRight);
  return (
    <div className={cx("strip-column")} data-instants={mark === null ? 1 : 2}>
      {strips.map((members, i) => (
        <Strip
          key={i}
          id={id}
          tile={tile}
          index={i}
          members={members}
          x={x}
          showX={i === strips.length - 1}
          hasRight={hasRight}
          marks={marks}
          events={i === 0 ? events : events.map((e) => ({ ...e, text: "" }))}
          ticks={i === 0 ? ticks : noEvents}
          wide={wide}
        />
      ))}
    </div>
  );
}

interface StripProps {
  id: string;
  tile: Tile;
  index: number;
  members: readonly Shown[];
  x: Range;
  showX: boolean;
  hasRight: boolean;
  marks: readonly Mark[];
  events: readonly { at: number; text: string }[];
  ticks: readonly number[];
  /** Whether there is room for values beside the strip. */
  wide: boolean;
}

function Strip({ id, tile, index, members, x, showX, hasRight, marks, events, ticks, wide }: StripProps) {
  const { verdicts, time, mark } = useBench(useShallow((s) => ({ verdicts: s.run?.verdicts, time: s.time, mark: s.mark })));
  const axis = stripOf(tile, index);
  const lines = useMemo(() => members.flatMap((m) => m.lines), [members]);
  const rules = useMemo(
    () => members.filter((m) => !m.node.onRight && !m.node.difference).flatMap((m) => limitRules(verdicts ?? [], m.recorded, m.read)),
    [members, verdicts],
  );
  const pins = useMemo(() => Object.values(tile.pins).filter((p) => p.strip === index), [tile.pins, index]);
  const unitOf = (onRight: boolean) => members.find((m) => m.node.onRight === onRight)?.unit ?? "";
  const fixed = (side: "left" | "right"): Range | undefined => {
    const { from, to } = axis[side];
    return from !== undefined && to !== undefined && to > from ? [from, to] : undefined;
  };
  return (
    <div className={cx("strip-row", { wide })}>
      <Plot
        label={`${members.map((m) => m.label).join(", ") || "An empty strip"} over time`}
        lines={lines}
        rules={rules}
        x={x}
        y={fixed("left")}
        right={fixed("right")}
        logY={axis.left.logarithmic}
        logRight={axis.right.logarithmic}
        unit={axis.left.title ?? unitOf(false)}
        rightUnit={axis.right.title ?? unitOf(true)}
        xUnit={tile.across?.unit ?? "s"}
        xScale={TIME_UNITS[tile.across?.unit ?? "s"] ?? 1}
        showX={showX}
        hasRight={hasRight}
        marks={marks}
        events={events}
        ticks={ticks}
        pins={pins}
        onCursor={setTime}
        onMark={(at) => useBench.setState({ mark: at })}
        onZoom={([from, to], y) => {
          if (y) setAxis(id, index, "left", { from: y[0], to: y[1] });
          goToRange({ from, to });
        }}
        onFit={() => {
          if (axis.left.from !== undefined) setAxis(id, index, "left", { from: undefined, to: undefined });
          fit();
        }}
        onPin={(px, py) => {
          // The first of the two clicks has set the second instant here, which was not meant.
          if (mark !== null && Math.abs(mark - px) < 1e-9 * Math.abs(px) + 1e-12) useBench.setState({ mark: null });
          const pin = newId("n");
          setTile(id, "Pin a note", { pins: { ...tile.pins, [pin]: { x: px, y: py, strip: index, text: "Note" } } });
        }}
      />
      <Legend tile={id} shown={members} a={mark} b={time} />
    </div>
  );
}
