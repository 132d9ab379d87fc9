import classNames from "classnames/bind";
import { Button } from "antd";
import { useBench } from "../../state/bench";
import { removeCurve, setCurve } from "../../state/plotSheets";
import { format } from "../../ui/format";
import { readAt, type Shown } from "./useTileLines";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

interface Props {
  tile: string;
  shown: readonly Shown[];
  /** Instants whose values are told. */
  a: number | null;
  b: number | null;
}

/** The curves of a strip with their values at the instants, and those of the runs beside. */
export function Legend({ tile, shown, a, b }: Props) {
  const selected = useBench((s) => (s.tile?.id === tile ? s.tile.curve : null));
  return (
    <table className={cx("key")}>
      <tbody>
        {shown.map((s) => (
          <Rows key={s.id} tile={tile} shown={s} a={a} b={b} on={selected === s.id} />
        ))}
      </tbody>
    </table>
  );
}

function Rows({ tile, shown, a, b, on }: { tile: string; shown: Shown; a: number | null; b: number | null; on: boolean }) {
  const values = (series: Shown["series"]) => {
    const [first, second] = [readAt(shown, series, a), readAt(shown, series, b)];
    return (
      <>
        {a !== null && <td>{format(first)}</td>}
        <td data-signal-value={shown.label}>{b === null ? "" : format(second)}</td>
        {a !== null && <td>{Number.isFinite(second - first) ? signed(second - first) : ""}</td>}
      </>
    );
  };
  return (
    <>
      <tr className={cx({ on, off: shown.node.hidden })}>
        <th>
          <Button
            type="text"
            size="small"
            className={cx("swatch")}
            aria-label={`${shown.node.hidden ? "Show" : "Hide"} ${shown.label}`}
            aria-pressed={!shown.node.hidden}
            onClick={() => setCurve(tile, shown.id, { hidden: !shown.node.hidden })}
          >
            <i style={{ borderTopColor: shown.color, borderTopStyle: (shown.node.dash as "solid" | undefined) ?? "solid" }} />
          </Button>
          <Button
            type="text"
            size="small"
            className={cx("name")}
            draggable
            title={`${shown.node.signal}: select the curve; drag it to another plot`}
            onDragStart={(e) => e.dataTransfer.setData("text/signal", shown.node.signal)}
            onClick={() => useBench.setState({ tile: { id: tile, curve: shown.id } })}
            onKeyDown={(e) => e.key === "Delete" && removeCurve(tile, shown.id)}
          >
            {shown.label}
          </Button>
          <span className="quiet">{shown.unit}</span>
        </th>
        {values(shown.series)}
      </tr>
      {(a === null && b === null ? [] : shown.others).map((o) => (
        <tr key={o.run} className={cx("other")}>
          <th>run {o.name || o.number}</th>
          {values(o.series)}
        </tr>
      ))}
    </>
  );
}

const signed = (value: number) => (value > 0 ? "+" : "") + format(value);
