import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import type { Tile } from "../../state/plotSheets";
import { format } from "../../ui/format";
import { Setting } from "./Setting";
import { useFigures } from "./useFigures";
import { useTileLines } from "./useTileLines";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** What a curve does between the two instants, else in what is seen. */
export function StretchFigures({ tile, curve }: { tile: Tile; curve: string }) {
  const shown = useTileLines(tile).find((s) => s.id === curve);
  const { mark, time } = useBench(useShallow((s) => ({ mark: s.mark, time: s.time })));
  const { figures: all, isBetween } = useFigures(tile);
  const figures = all.get(curve);
  if (!shown || !figures) return null;
  const rows: readonly (readonly [string, number, string, number?])[] = [
    // As beside the curves: that of b to a, whichever comes first.
    ["difference", (figures.last - figures.first) * (isBetween && (mark ?? 0) > (time ?? 0) ? -1 : 1), shown.unit],
    ["slope", figures.slope, shown.unit ? `${shown.unit}/s` : "1/s"],
    ["mean", figures.mean, shown.unit],
    ["rms", figures.rootMeanSquare, shown.unit],
    ["lowest", figures.lowest, shown.unit, figures.lowestAt],
    ["highest", figures.highest, shown.unit, figures.highestAt],
  ];
  return (
    <>
      <h2>{isBetween ? "Between a and b" : "In what is seen"}</h2>
      {rows.map(([name, value, unit, at]) => (
        <Setting key={name} label={name}>
          <span className={cx("mono", "figure")} data-figure={name}>
            {format(value)} <span className="quiet">{unit}</span>
            {at !== undefined && <span className="quiet"> at {format(at)} s</span>}
          </span>
        </Setting>
      ))}
    </>
  );
}
