import classNames from "classnames/bind";
import type { StepCost, TargetView } from "../../state/targets";
import { format } from "../../ui/format";
import styles from "./target.module.css";

const cx = classNames.bind(styles);

const WIDTH = 190,
  HEIGHT = 44;

/** What steps took, by unit: how many how long, over one axis; heights are logarithms, so that a single long one is seen. */
export function StepCosts({ target }: { target: TargetView }) {
  const classes = target.units.flatMap((u) => u.cost.classes);
  const from = Math.log(Math.min(...classes.map((c) => Number(c.from))));
  const to = Math.log(Math.max(...classes.map((c) => Number(c.to))));
  const most = Math.log(2 * Math.max(1, ...classes.map((c) => Number(c.count))));
  const isBoard = target.kind === "board";
  const told = isBoard ? instructions : time;
  const at = (t: number) => ((Math.log(t) - from) / Math.max(1e-9, to - from)) * WIDTH;
  return (
    <section className={cx("costs")} aria-label={isBoard ? "Instructions a step" : "Time a step"}>
      <div className={cx("head")}>
        <b>{isBoard ? "Instructions a step" : "Time a step"}</b>
      </div>
      {target.units.map((u) => (
        <figure key={u.delivery}>
          <figcaption>
            <b>{u.name}</b>
            {Number(u.cost.steps) === 0 ? (
              <span className="quiet">no step yet</span>
            ) : (
              <span>
                worst <b>{told(u.cost.most)}</b>, typically {told(u.cost.median)}
              </span>
            )}
          </figcaption>
          <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={words(u.name, u.cost, told)}>
            {u.cost.classes.map((c) => {
              const height = (Math.log(2 * Number(c.count)) / most) * HEIGHT;
              if (Number(c.count) === 0) return null;
              return (
                <rect
                  key={Number(c.from)}
                  x={at(Number(c.from))}
                  width={Math.max(1, at(Number(c.to)) - at(Number(c.from)) - 0.5)}
                  y={HEIGHT - height}
                  height={height}
                />
              );
            })}
            <path d={`M0 ${HEIGHT - 0.5}h${WIDTH}`} />
          </svg>
          {u.size && (
            <p className="quiet">
              {whole(u.size.flash)} B of code, stack {whole(u.size.stack)} B
            </p>
          )}
        </figure>
      ))}
      {classes.length > 0 && (
        <p className="quiet">
          {told(Math.exp(from))} to {told(Math.exp(to))}, heights logarithmic.{" "}
          {isBoard ? "The same in every run." : `Worst ${share(target)} of a step, of this machine with all that it does.`}
        </p>
      )}
    </section>
  );
}

/** ns, µs or ms. */
function time(ns: number | string): string {
  const t = Number(ns);
  return t < 1e3 ? `${format(t, 3)} ns` : t < 1e6 ? `${format(t / 1e3, 3)} µs` : `${format(t / 1e6, 3)} ms`;
}

const whole = (n: number | string) => Math.round(Number(n)).toLocaleString("en");

const instructions = whole;

const words = (name: string, cost: StepCost, told: (n: number | string) => string) =>
  Number(cost.steps) === 0 ? `${name}: no step yet` : `${name}: ${cost.steps} steps, at most ${told(cost.most)}`;

const share = (target: TargetView) =>
  `${format((Math.max(...target.units.map((u) => Number(u.cost.most))) / (Number(target.step) * 1e9)) * 100, 2)} %`;
