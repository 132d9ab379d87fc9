import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import type { LoopView } from "../../api/client";
import { toPixel } from "../../plots/scale";
import { select, useBench } from "../../state/bench";
import { chooseLoop, HAND, useTune } from "../../state/tune";
import { format } from "../../ui/format";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

/** The loops of the model inside one another, in the order of tuning, and how far apart they are. */
export function LoopsPane() {
  const { loops, point } = useTune(useShallow((s) => ({ loops: s.loops, point: s.point })));
  const outer = loops.filter((l) => !l.around);
  const speeds = loops
    .map((l) => Number(l.figures?.bandwidth ?? 0))
    .filter((w) => w > 0)
    .sort((a, b) => a - b);
  return (
    <nav className={cx("loops")} aria-label="Loops">
      <header className={cx("pane-head")}>
        <h2>Loops</h2>
      </header>
      <div className={cx("loops-body")}>
        {outer.map((l) => (
          <LoopBox key={l.part} loop={l} />
        ))}
        {speeds.length > 1 && <Apart speeds={speeds} />}
        <h3 className={cx("section")}>Operating point</h3>
        <p className="quiet">{point}</p>
      </div>
    </nav>
  );
}

function LoopBox({ loop }: { loop: LoopView }) {
  const { loops, part, hand } = useTune(useShallow((s) => ({ loops: s.loops, part: s.part, hand: s.designs.get(HAND)?.figures })));
  const on = loop.part === part;
  const f = loop.figures;
  const row = (label: string, value: number | string | null | undefined, unit: string) => (
    <>
      <dt>{label}</dt>
      <dd className="mono">{value === null || value === undefined ? "–" : format(Number(value), 3)}</dd>
      <dd>{unit}</dd>
    </>
  );
  return (
    <div className={cx("loop-box", { on })}>
      <button
        type="button"
        aria-pressed={on}
        onClick={() => {
          chooseLoop(loop.part);
          const own = loop.part.split("/").at(-1) as string;
          // What stands on another level cannot be selected on this one.
          if (own in useBench.getState().diagram.parts) select([own]);
        }}
      >
        <u>{loop.order}</u>
        <b>{loop.name}</b>
      </button>
      {loop.problem ? (
        <p className="quiet">{loop.problem}</p>
      ) : (
        <dl>
          {row("bandwidth", f?.bandwidth, "rad/s")}
          {row("worst margin", f?.phaseMargin, "°")}
          {row("peak Ms", f?.isStable === false ? null : f?.sensitivity, "")}
          {loop.period != null && row("sample time", loop.period, "s")}
        </dl>
      )}
      {f?.isStable === false && <p className={cx("bad")}>unstable</p>}
      {on && hand?.bandwidth && (
        <p className={cx("in-hand")}>
          in hand {format(Number(hand.bandwidth), 3)} · {format(Number(hand.phaseMargin), 3)}° · {format(Number(hand.sensitivity), 3)}
        </p>
      )}
      {loops
        .filter((l) => l.around === loop.part)
        .map((l) => (
          <LoopBox key={l.part} loop={l} />
        ))}
    </div>
  );
}

function Apart({ speeds }: { speeds: number[] }) {
  const low = 10 ** Math.floor(Math.log10(speeds[0] as number));
  const high = 10 ** Math.ceil(Math.log10(speeds[speeds.length - 1] as number) + 1e-9);
  const x = { from: low, to: high > low ? high : 10 * low, start: 10, end: 150, logarithmic: true };
  return (
    <>
      <h3 className={cx("section")}>Apart by a factor of</h3>
      <svg width="162" height="48" role="img" aria-label={`Bandwidths ${speeds.map((s) => format(s, 3)).join(", ")} rad/s`}>
        <path d="M10 26H150M10 26v5M150 26v5" stroke="#17324D" />
        {speeds.map((s, i) => (
          <g key={s} transform={`translate(${toPixel(x, s)} 0)`}>
            <path d="M0 26l-4.5-8h9z" fill="#6B7F92" />
            {i > 0 && (
              <text className="n" x={(toPixel(x, speeds[i - 1] as number) - toPixel(x, s)) / 2} y="12" textAnchor="middle">
                × {format(s / (speeds[i - 1] as number), 2)}
              </text>
            )}
          </g>
        ))}
        <text className="n" x="10" y="44" textAnchor="middle">
          {format(x.from)}
        </text>
        <text className="n" x="150" y="44" textAnchor="middle">
          {format(x.to)}
        </text>
      </svg>
    </>
  );
}
