import classNames from "classnames/bind";
import { Select } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { columnsOf, misses, readerOf, spanOf, toneOf, TONES } from "../../state/studyColumns";
import { useStudies, type Results, type Row } from "../../state/studies";
import { format } from "../../ui/format";
import { tokens } from "../../ui/tokens";
import { cellAt, indexAt, layoutStrip, type StripLayout } from "./strip";
import styles from "./explore.module.css";

const cx = classNames.bind(styles);

/** Width of the run numbers at the left. */
const NUMBERS = 40;
const HEIGHT = 150;

/** The column that gives tones: the chosen one, else the first measure. */
export const toneColumn = (r: Results, tone: string | null): string =>
  tone ?? (r.measures[0] ? `measure:${r.measures[0].id}` : r.requirements[0] ? `margin:${r.requirements[0].id}` : "run");

/** One cell a run, in the order of the runs: state and verdict by tone and hatch. A drag or Shift and arrows pick runs. */
export function RunStrip() {
  const { results, picks, over, tone } = useStudies(
    useShallow((s) => ({ results: s.results, picks: s.picks, over: s.over, tone: s.tone })),
  );
  const canvas = useRef<HTMLCanvasElement>(null);
  const [width, setWidth] = useState(700);
  const [from, setFrom] = useState<number | null>(null);
  const count = results?.rows.length ?? 0;
  const layout = useMemo(() => layoutStrip(count, width - NUMBERS, HEIGHT), [count, width]);
  const key = results ? toneColumn(results, tone) : "run";
  const read = useMemo(() => (results ? readerOf(results, key) : () => null), [results, key]);
  const span = useMemo(() => spanOf(results?.rows ?? [], read), [results, read]);
  useEffect(() => {
    const host = canvas.current?.parentElement;
    if (!host) return;
    const watch = new ResizeObserver(() => setWidth(host.clientWidth));
    watch.observe(host);
    setWidth(host.clientWidth);
    return () => watch.disconnect();
  }, []);
  useEffect(() => {
    const element = canvas.current;
    const g = element?.getContext("2d");
    if (!element || !g || !results) return;
    const ratio = window.devicePixelRatio || 1;
    const height = Math.max(layout.lines * layout.height, 14);
    [element.width, element.height] = [Math.round(width * ratio), Math.round((height + 2) * ratio)];
    [element.style.width, element.style.height] = [`${width}px`, `${height + 2}px`];
    g.setTransform(ratio, 0, 0, ratio, 0, 0);
    paint(g, layout, results, read, span, picks, over);
  }, [layout, results, read, span, picks, over, width]);
  if (!results) return null;
  const pick = (a: number, b: number) => {
    const [low, high] = [Math.min(a, b), Math.max(a, b)];
    useStudies.setState({ picks: new Set(Array.from({ length: high - low + 1 }, (_, i) => low + i)) });
  };
  const at = (e: React.PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    return indexAt(layout, count, e.clientX - box.left - NUMBERS, e.clientY - box.top);
  };
  const byKey = (e: React.KeyboardEvent) => {
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -layout.columns, ArrowDown: layout.columns }[e.key];
    if (e.key === "Escape") return useStudies.setState({ picks: new Set(), over: null });
    if (e.key === "Enter" && over !== null) return pick(over, over);
    if (step === undefined) return;
    e.preventDefault();
    const next = Math.min(count - 1, Math.max(0, (over ?? -Math.sign(step)) + step));
    useStudies.setState({ over: next });
    if (e.shiftKey) pick([...picks][0] ?? over ?? next, next);
  };
  const columns = columnsOf(results);
  const column = columns.find((c) => c.key === key);
  return (
    <section className={cx("strip")} aria-label="Runs of the study">
      <div className={cx("strip-head")}>
        <Select
          size="small"
          variant="borderless"
          aria-label="What gives the tone"
          value={key}
          options={columns.map((c) => ({ value: c.key, label: c.label }))}
          onChange={(v: string) => useStudies.setState({ tone: v })}
          popupMatchSelectWidth={false}
        />
        <span className={cx("tones")} aria-hidden>
          {TONES.map((t) => (
            <i key={t} style={{ background: t }} />
          ))}
        </span>
        <span className="mono">
          {format(span[0], 4)}…{format(span[1], 4)} {column?.unit}
        </span>
        <span className={cx("key")}>
          <i className={cx("missed")} /> requirement missed
        </span>
        <span className={cx("key")}>
          <i className={cx("waiting")} /> waiting
        </span>
        <span className={cx("key")}>
          <i className={cx("running")} /> running
        </span>
        <span className={cx("key")}>
          <i className={cx("failed")} /> failed
        </span>
      </div>
      <div className={cx("strip-host")}>
        <canvas
          ref={canvas}
          tabIndex={0}
          role="img"
          aria-label={`${count} runs; arrows go from run to run, Shift picks, Escape lets go`}
          onPointerDown={(e) => {
            const i = at(e);
            if (i === null) return useStudies.setState({ picks: new Set() });
            e.currentTarget.setPointerCapture(e.pointerId);
            setFrom(i);
            pick(i, i);
          }}
          onPointerMove={(e) => {
            const i = at(e);
            useStudies.setState({ over: i });
            if (from !== null && i !== null) pick(from, i);
          }}
          onPointerUp={() => setFrom(null)}
          onPointerLeave={() => useStudies.setState({ over: null })}
          onKeyDown={byKey}
        />
      </div>
      <div className={cx("strip-foot")} role="status">
        <span>{picked(results, picks)}</span>
        <span>{over !== null && told(results, over)}</span>
      </div>
    </section>
  );
}

function picked(r: Results, picks: ReadonlySet<number>): React.ReactNode {
  if (picks.size === 0) return <span className="quiet">Drag over runs to pick them</span>;
  const all = [...picks].map((i) => r.rows[i]).filter((x): x is Row => x !== undefined);
  const [missed, failed] = [all.filter(misses).length, all.filter((x) => x.isFailed).length];
  const numbers = [...picks].sort((a, b) => a - b);
  const [first, last] = [numbers[0] as number, numbers.at(-1) as number];
  return (
    <>
      <b className={cx("hot")}>{last - first + 1 === numbers.length && numbers.length > 1 ? `${first + 1}…${last + 1}` : ""}</b>{" "}
      {picks.size} picked{missed > 0 && `, ${missed} missed`}
      {failed > 0 && `, ${failed} failed`}
    </>
  );
}

function told(r: Results, index: number): React.ReactNode {
  const row = r.rows[index];
  if (!row) return `run ${index + 1}: ${String(index) in r.running ? `at ${format(Number(r.running[index]), 3)} s` : "waiting"}`;
  const values = r.factors
    .slice(0, 3)
    .map((f, i) => `${f.name} ${row.numbers[i] == null ? row.cells[i] : `${format(Number(row.numbers[i]), 4)} ${f.unit}`.trim()}`);
  const measure =
    r.measures[0] && row.measures[0] != null ? `, ${r.measures[0].name} ${format(Number(row.measures[0]), 5)} ${r.measures[0].unit}` : "";
  return (
    <>
      <b>run {index + 1}:</b> {values.join(", ")}
      {row.isFailed ? `: ${row.problem}` : measure}
    </>
  );
}

/** Draws all cells. */
function paint(
  g: CanvasRenderingContext2D,
  layout: StripLayout,
  r: Results,
  read: (row: Row) => number | null,
  [low, high]: [number, number],
  picks: ReadonlySet<number>,
  over: number | null,
) {
  const count = r.rows.length;
  g.clearRect(0, 0, 10_000, 10_000);
  g.font = '10.5px "IBM Plex Mono"';
  g.textAlign = "right";
  g.fillStyle = tokens.quiet;
  const stride = Math.max(1, Math.ceil(12 / layout.height));
  for (let line = 0; line < layout.lines; line += stride)
    g.fillText(String(line * layout.columns + 1), NUMBERS - 6, line * layout.height + Math.min(layout.height, 12) - 2);
  for (let i = 0; i < count; i++) {
    const c = cellAt(layout, i);
    const [x, y] = [NUMBERS + c.x, c.y + 1];
    const row = r.rows[i];
    if (!row) {
      g.strokeStyle = tokens.shade;
      g.lineWidth = 1;
      if (c.width > 2) g.strokeRect(x + 0.5, y + 0.5, c.width - 1, c.height - 1);
      else {
        g.fillStyle = tokens.hair;
        g.fillRect(x, y, c.width, c.height);
      }
      const reached = r.running[i];
      if (reached !== undefined) {
        const part = Math.max(0.15, Math.min(1, Number(reached) / r.end));
        g.fillStyle = tokens.buoy;
        g.fillRect(x, y + c.height * (1 - part), Math.max(c.width, 2), c.height * part);
      }
      continue;
    }
    if (row.isFailed) {
      g.fillStyle = tokens.missed;
      g.fillRect(x + c.width / 2 - 1, y, 2, c.height);
      continue;
    }
    g.fillStyle = toneOf(read(row), low, high);
    g.fillRect(x, y, c.width, c.height);
    if (misses(row)) hatch(g, x, y, c.width, c.height);
  }
  for (const [from, to] of stretches(picks, layout.columns)) {
    const [a, b] = [cellAt(layout, from), cellAt(layout, to)];
    g.strokeStyle = tokens.buoy;
    g.lineWidth = 1.5;
    g.strokeRect(NUMBERS + a.x - 1, a.y, b.x + b.width - a.x + 2, a.height + 2);
  }
  if (over !== null && over < count) {
    const c = cellAt(layout, over);
    g.strokeStyle = tokens.ink;
    g.lineWidth = 1.5;
    g.strokeRect(NUMBERS + c.x - 0.5, c.y + 0.5, c.width + 1, c.height + 1);
  }
}

/** Lines across a cell: what is missed is told without colour too. */
function hatch(g: CanvasRenderingContext2D, x: number, y: number, width: number, height: number): void {
  g.save();
  g.beginPath();
  g.rect(x, y, width, height);
  g.clip();
  g.strokeStyle = tokens.surface;
  g.lineWidth = 1.3;
  g.beginPath();
  for (let d = -height; d < width; d += 4) {
    g.moveTo(x + d, y + height);
    g.lineTo(x + d + height, y);
  }
  g.stroke();
  g.restore();
}

/** Picked runs as stretches within lines. */
function stretches(picks: ReadonlySet<number>, columns: number): [number, number][] {
  const found: [number, number][] = [];
  for (const i of [...picks].sort((a, b) => a - b)) {
    const last = found.at(-1);
    if (last && last[1] === i - 1 && i % columns !== 0) last[1] = i;
    else found.push([i, i]);
  }
  return found;
}
