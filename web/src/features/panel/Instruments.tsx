import classNames from "classnames/bind";
import { useBench } from "../../state/bench";
import { format } from "../../ui/format";
import { smallPath } from "../../plots/SmallCurve";
import type { ItemProps } from "./Controls";
import { arcPath, marksOf, onCircle } from "./scale";
import styles from "./panel.module.css";

const cx = classNames.bind(styles);

/** The present value of a signal, in the unit of its view; undefined where there is none. */
function useReading(signal: string | undefined, view: { scale: number; shift: number } | null | undefined): number | undefined {
  const value = useBench((s) => (signal ? s.readings.get(signal) : undefined));
  return value === undefined || !view ? undefined : value * view.scale + view.shift;
}

const told = (value: number | undefined, digits = 3) => (value === undefined ? "–" : format(value, digits));

/** An instrument: flat ink on paper. */
export function Instrument({ item, view, label }: ItemProps) {
  const value = useReading(item.target, view?.signal);
  const second = useReading(item.second, view?.second ?? view?.signal);
  const unit = view?.signal?.unit ?? "";
  switch (item.kind) {
    case "number":
      return (
        <div className={cx("line")}>
          <span>{label}</span>
          <b className="mono">{told(value)}</b>
          <small>{unit}</small>
        </div>
      );
    case "lamp":
      return (
        <div className={cx("line")} role="status" aria-label={`${label}: ${value ? "on" : "off"}`}>
          <i className={cx("lamp", { on: value !== undefined && value !== 0 })} />
          <span>{label}</span>
        </div>
      );
    case "text": {
      const choice = value === undefined ? undefined : item.choices.find((c) => Number(c.value) === Math.round(value));
      return (
        <div className={cx("line")}>
          <span>{label}</span>
          <b>{choice?.label ?? (view?.type === "Boolean" && value !== undefined ? (value ? "yes" : "no") : told(value))}</b>
        </div>
      );
    }
    case "bar":
      return <Bar label={label} unit={unit} value={value} from={item.from ?? 0} to={item.to ?? 1} />;
    case "level":
      return <Level label={label} unit={unit} value={value} from={item.from ?? 0} to={item.to ?? 1} />;
    case "dial":
      return <Dial label={label} unit={unit} value={value} from={item.from ?? 0} to={item.to ?? 100} />;
    case "compass":
      return <Compass label={label} value={value} wanted={item.second ? second : undefined} />;
    case "horizon":
      return <Horizon label={label} roll={value} pitch={second ?? 0} />;
    case "trend":
      return <Trend label={label} unit={unit} signal={item.target ?? ""} value={value} />;
    default:
      return null;
  }
}

interface Scale {
  label: string;
  unit: string;
  value: number | undefined;
  from: number;
  to: number;
}

const partOf = ({ value, from, to }: Scale) => (value === undefined ? 0 : Math.max(0, Math.min(1, (value - from) / (to - from || 1))));

function Bar(s: Scale) {
  return (
    <div className={cx("slide")} role="meter" aria-label={s.label} aria-valuemin={s.from} aria-valuemax={s.to} aria-valuenow={s.value ?? 0}>
      <span>
        {s.label} <b className="mono">{told(s.value)}</b> <small>{s.unit}</small>
      </span>
      <div className={cx("bar")}>
        <i style={{ width: `${partOf(s) * 100}%` }} />
      </div>
    </div>
  );
}

function Level(s: Scale) {
  const marks = marksOf(s.from, s.to, 5);
  const y = (v: number) => 92 - ((v - s.from) / (s.to - s.from || 1)) * 84;
  return (
    <figure className={cx("round")} role="meter" aria-label={s.label} aria-valuenow={s.value ?? 0}>
      <svg viewBox="0 0 70 100">
        <rect x="6" y="8" width="26" height="84" className={cx("face")} />
        <rect x="6" y={y(s.from + partOf(s) * (s.to - s.from))} width="26" height={84 * partOf(s)} className={cx("water")} />
        {marks.map((m) => (
          <g key={m}>
            <path d={`M32 ${y(m)}h5`} className={cx("mark")} />
            <text x="40" y={y(m) + 3}>
              {format(m, 3)}
            </text>
          </g>
        ))}
      </svg>
      <figcaption>
        {s.label} <b className="mono">{told(s.value)}</b> <small>{s.unit}</small>
      </figcaption>
    </figure>
  );
}

function Dial(s: Scale) {
  const part = partOf(s);
  const tip = onCircle(50, 50, 33, part);
  const marks = marksOf(s.from, s.to, 6);
  const at = (v: number) => (v - s.from) / (s.to - s.from || 1);
  return (
    <figure
      className={cx("round")}
      role="meter"
      aria-label={s.label}
      aria-valuemin={s.from}
      aria-valuemax={s.to}
      aria-valuenow={s.value ?? 0}
    >
      <svg viewBox="0 0 100 92">
        <path d={arcPath(50, 50, 42, 0, 1)} className={cx("face")} />
        {marks.map((m) => {
          const [a, b, t] = [onCircle(50, 50, 42, at(m)), onCircle(50, 50, 37, at(m)), onCircle(50, 50, 29, at(m))];
          return (
            <g key={m}>
              <path d={`M${a.x} ${a.y}L${b.x} ${b.y}`} className={cx("mark")} />
              <text x={t.x} y={t.y + 3} textAnchor="middle">
                {format(m, 3)}
              </text>
            </g>
          );
        })}
        <path d={`M50 50L${tip.x} ${tip.y}`} className={cx("needle")} />
        <circle cx="50" cy="50" r="3" className={cx("hub")} />
      </svg>
      <figcaption>
        {s.label} <b className="mono">{told(s.value)}</b> <small>{s.unit}</small>
      </figcaption>
    </figure>
  );
}

/** North is up; the hull turns. Values are degrees. */
function Compass({ label, value, wanted }: { label: string; value: number | undefined; wanted: number | undefined }) {
  const letters = ["N", "E", "S", "W"];
  return (
    <figure className={cx("round")} role="img" aria-label={`${label}: ${told(value)} degrees`}>
      <svg viewBox="0 0 100 100">
        <circle cx="50" cy="50" r="44" className={cx("face")} />
        {Array.from({ length: 24 }, (_, i) => (
          <path key={i} d="M50 6v4" transform={`rotate(${i * 15} 50 50)`} className={cx("mark")} />
        ))}
        {letters.map((l, i) => (
          <text key={l} x={50 + 32 * Math.sin((i * Math.PI) / 2)} y={50 - 32 * Math.cos((i * Math.PI) / 2) + 3} textAnchor="middle">
            {l}
          </text>
        ))}
        {wanted !== undefined && <path d="M50 3l-4 -6h8z" transform={`rotate(${wanted} 50 50)`} className={cx("bug")} />}
        {value !== undefined && (
          <path d="M50 30c5 6 6 14 5 36h-10c-1 -22 0 -30 5 -36z" transform={`rotate(${value} 50 50)`} className={cx("hull")} />
        )}
      </svg>
      <figcaption>
        {label} <b className="mono">{value === undefined ? "–" : (((value % 360) + 360) % 360).toFixed(1)}</b> <small>°</small>
      </figcaption>
    </figure>
  );
}

/** The horizon leans against the roll, and moves down as the bow goes up. Values are degrees. */
function Horizon({ label, roll, pitch }: { label: string; roll: number | undefined; pitch: number }) {
  return (
    <figure className={cx("round")} role="img" aria-label={`${label}: ${told(roll)} degrees`}>
      <svg viewBox="0 0 100 100">
        <clipPath id="horizon">
          <circle cx="50" cy="50" r="44" />
        </clipPath>
        <circle cx="50" cy="50" r="44" className={cx("face")} />
        <g clipPath="url(#horizon)">
          <g transform={`rotate(${-(roll ?? 0)} 50 50) translate(0 ${Math.max(-40, Math.min(40, pitch * 1.5))})`}>
            <rect x="-20" y="50" width="140" height="120" className={cx("water")} />
            <path d="M-20 50h140" className={cx("mark")} />
            {[-20, -10, 10, 20].map((d) => (
              <path key={d} d={`M${d % 20 === 0 ? 38 : 43} ${50 - d * 1.5}h${d % 20 === 0 ? 24 : 14}`} className={cx("mark")} />
            ))}
          </g>
        </g>
        <path d="M28 50h14l4 5h8l4 -5h14" className={cx("bow")} />
        <path d="M50 6l-3 6h6z" className={cx("hub")} />
      </svg>
      <figcaption>
        {label} <b className="mono">{told(roll)}</b> <small>°</small>
      </figcaption>
    </figure>
  );
}

function Trend({ label, unit, signal, value }: { label: string; unit: string; signal: string; value: number | undefined }) {
  const series = useBench((s) => s.traces.get(signal) ?? s.curves.get(s.run?.id ?? "")?.get(signal));
  return (
    <div className={cx("trend")}>
      <span>
        {label} <b className="mono">{told(value)}</b> <small>{unit}</small>
      </span>
      <svg viewBox="0 0 200 56" preserveAspectRatio="none" role="img" aria-label={`${label} over time`}>
        <path d={smallPath(series, { width: 200, height: 56 })} vectorEffect="non-scaling-stroke" />
      </svg>
    </div>
  );
}
