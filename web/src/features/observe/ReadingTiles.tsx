import classNames from "classnames/bind";
import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { goToRange } from "../../state/observe";
import type { Tile } from "../../state/plotSheets";
import { setTime } from "../../state/runs";
import { format } from "../../ui/format";
import { tokens } from "../../ui/tokens";
import { useFigures, type Figures } from "./useFigures";
import { readAt, useTileLines, type Shown } from "./useTileLines";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** Figures of signals between two instants, else over what is seen. */
export function TableTile({ tile }: { tile: Tile }) {
  const shown = useTileLines(tile);
  const { figures } = useFigures(tile);
  const time = useBench((s) => s.time);
  return (
    <div className={cx("figures")}>
      <table>
        <thead>
          <tr>
            <th>signal</th>
            <th>unit</th>
            <th>{time === null ? "at –" : `at ${format(time)} s`}</th>
            {columns.map((c) => (
              <th key={c.figure}>{c.label}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map((s) => {
            const f = figures.get(s.id);
            return (
              <tr key={s.id}>
                <th>
                  <i style={{ borderTopColor: s.color }} />
                  {s.label}
                </th>
                <td className="quiet">{s.unit}</td>
                <td>{format(readAt(s, s.series, time))}</td>
                {columns.map(({ figure }) => (
                  <td key={figure}>{f ? format(f[figure]) : "–"}</td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
      {shown.length === 0 && <p className={cx("tile-empty")}>Drag signals here.</p>}
    </div>
  );
}

const columns: readonly { figure: keyof Figures; label: string }[] = [
  { figure: "first", label: "first" },
  { figure: "last", label: "last" },
  { figure: "lowest", label: "lowest" },
  { figure: "highest", label: "highest" },
  { figure: "mean", label: "mean" },
  { figure: "rootMeanSquare", label: "rms" },
];

/** One value, to be read from afar: at the time bar, else the last one. */
export function NumberTile({ tile }: { tile: Tile }) {
  const [first] = useTileLines(tile);
  const time = useBench((s) => s.time);
  if (!first) return <div className={cx("tile-empty")}>Drag a signal here.</div>;
  const last = first.series?.times.length ? (first.series.times[first.series.times.length - 1] as number) : null;
  return (
    <div className={cx("number")}>
      <b className="mono" style={{ color: first.color }}>
        {format(readAt(first, first.series, time ?? last))}
      </b>
      <span>
        {first.unit} <span className="quiet">{time === null ? "at the end" : `at ${format(time)} s`}</span>
      </span>
      <span className="quiet">{first.label}</span>
    </div>
  );
}

const shades = ["#E3EBF2", "#B9CDDD", "#8BA9C2", "#4A6A8A", "#F0DDA8", "#E3C06C", "#D9E7DF", "#A9CDBA"];

/** What holds when: bands over time for signals that stand still between events. */
export function BandsTile({ tile }: { tile: Tile }) {
  const shown = useTileLines(tile);
  const { range, end, time } = useBench(useShallow((s) => ({ range: s.range, end: Number(s.run?.end ?? 1), time: s.time })));
  const [from, to] = [range?.from ?? 0, range?.to ?? end];
  const rows = useMemo(() => shown.map((s) => ({ shown: s, bands: bandsOf(s, from, to) })), [shown, from, to]);
  const left = (t: number) => `${(100 * (t - from)) / (to - from)}%`;
  return (
    <div className={cx("bands")} onDoubleClick={() => goToRange(null)}>
      {rows.map(({ shown: s, bands }) => (
        <div key={s.id} className={cx("band-row")}>
          <span className={cx("band-name")} title={s.label}>
            {s.label}
          </span>
          <div
            className={cx("band-line")}
            role="img"
            aria-label={`${s.label} over time`}
            onPointerDown={(e) => {
              const box = e.currentTarget.getBoundingClientRect();
              setTime(from + ((e.clientX - box.left) / box.width) * (to - from));
            }}
          >
            {bands.map((b) => (
              <span
                key={b.from}
                className={cx("band")}
                style={{ left: left(b.from), width: `${(100 * (b.to - b.from)) / (to - from)}%`, background: b.color, color: b.ink }}
                title={`${b.text}: ${format(b.from)} to ${format(b.to)} s`}
              >
                {b.text}
              </span>
            ))}
            {time !== null && time >= from && time <= to && <i style={{ left: left(time) }} />}
          </div>
        </div>
      ))}
      {rows.length === 0 && <p className={cx("tile-empty")}>Drag a Boolean or whole-numbered signal here.</p>}
    </div>
  );
}

/** Bands that are no wider than what can be told apart are drawn as one. */
const MOST_BANDS = 400;

function bandsOf(s: Shown, from: number, to: number) {
  const bands: { from: number; to: number; value: number; text: string; color: string; ink: string }[] = [];
  const series = s.series;
  if (!series) return bands;
  for (let i = 0; i < series.times.length && bands.length < MOST_BANDS; i++) {
    const start = Math.max(from, series.times[i] as number);
    const stop = Math.min(to, (series.times[i + 1] as number | undefined) ?? to);
    const value = series.values[i] as number;
    if (!(stop > start)) continue;
    const last = bands.at(-1);
    if (last && last.value === value) last.to = stop;
    else {
      const isBoolean = value === 0 || value === 1;
      const place = isBoolean ? value * 3 : Math.abs(Math.round(value)) % shades.length;
      const text = s.node.difference || !isBoolean ? format(s.read(value)) : value ? "true" : "false";
      bands.push({ from: start, to: stop, value, text, color: shades[place] as string, ink: place === 3 ? tokens.surface : tokens.ink });
    }
  }
  return bands;
}
