import classNames from "classnames/bind";
import { Button, Dropdown } from "antd";
import { useShallow } from "zustand/react/shallow";
import type { LoopFiguresView, WishesView } from "../../api/client";
import { dragTo, HAND, setWishes, useTune } from "../../state/tune";
import { format } from "../../ui/format";
import { NumberField } from "./NumberField";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

interface Wish {
  key: keyof WishesView;
  before: string;
  after: string;
  /** What it is called where it stops something. */
  name: string;
  usual: (f: LoopFiguresView | undefined) => number;
}

const wishes: Wish[] = [
  {
    key: "sensitivity",
    before: "Keep Ms below",
    after: "",
    name: "The peak of the sensitivity",
    usual: () => 1.6,
  },
  {
    key: "noiseGain",
    before: "Noise gain below",
    after: "",
    name: "The noise gain",
    usual: (f) => 2 * Number(f?.noiseGain ?? 5),
  },
  {
    key: "bandwidth",
    before: "Bandwidth at least",
    after: "rad/s",
    name: "The bandwidth",
    usual: (f) => Number(f?.bandwidth ?? 1) / 2,
  },
  {
    key: "phaseMargin",
    before: "Phase margin at least",
    after: "°",
    name: "The phase margin",
    usual: () => 45,
  },
  {
    key: "loadError",
    before: "Load error below",
    after: "",
    name: "The load error",
    usual: (f) => Number(f?.loadError ?? 1),
  },
];

/** What is wished of the loop, whether the design in hand has it, and which wish stops it from being better. */
export function Wishes() {
  const { kept, hand, missed, advice } = useTune(
    useShallow((s) => ({
      kept: s.wishes,
      hand: s.designs.get(HAND)?.figures ?? undefined,
      missed: s.designs.get(HAND)?.missed,
      advice: s.map?.advice,
    })),
  );
  const missing = wishes.filter((w) => kept[w.key] === null);
  const stopper = wishes.find((w) => w.key === advice?.stopper);
  const best = advice?.best;
  const go = (p: { bandwidth: number | string; sensitivity: number | string }) => dragTo(Number(p.bandwidth), Number(p.sensitivity));
  return (
    <>
      <h3 className={cx("section")}>Wishes</h3>
      <ul className={cx("wishes")}>
        {wishes
          .filter((w) => kept[w.key] !== null)
          .map((w) => {
            const met = missed !== undefined && !missed.includes(w.key);
            return (
              <li key={w.key}>
                <u className={cx(met ? "met" : "missed")} title={met ? "met" : "missed"} />
                <span>{w.before}</span>
                <NumberField
                  label={`${w.before}${w.after && `, ${w.after}`}`}
                  value={Number(kept[w.key])}
                  fits={(v) => (w.key === "sensitivity" ? v > 1 : v > 0)}
                  put={(v) => setWishes({ [w.key]: v })}
                />
                <span>{w.after}</span>
                <Button type="text" size="small" aria-label={`Take away: ${w.before}`} onClick={() => setWishes({ [w.key]: null })}>
                  ×
                </Button>
              </li>
            );
          })}
      </ul>
      {missing.length > 0 && (
        <Dropdown
          trigger={["click"]}
          menu={{
            items: missing.map((w) => ({ key: w.key, label: `${w.before} …` })),
            onClick: ({ key }) => {
              const w = wishes.find((x) => x.key === key);
              if (w) setWishes({ [w.key]: Number(w.usual(hand).toPrecision(2)) });
            },
          }}
        >
          <Button type="link" size="small">
            Add a wish
          </Button>
        </Dropdown>
      )}
      <h3 className={cx("section")}>What stops it</h3>
      {advice && (
        <p className={cx("note")}>
          {best ? (
            <>
              On this map the least load error with all wishes is <b>{format(Number(best.loadError), 3)}</b> at{" "}
              {format(Number(best.bandwidth), 3)} rad/s, Ms {format(Number(best.sensitivity), 3)}.{" "}
              <Button type="link" size="small" onClick={() => go(best)}>
                Go there
              </Button>
            </>
          ) : (
            "No place on the map meets all wishes. "
          )}
          {stopper && advice.without && (
            <>
              {stopper.name} stops it: without that wish it could fall to <b>{format(Number(advice.without.loadError), 3)}</b> at{" "}
              {format(Number(advice.without.bandwidth), 3)} rad/s, Ms {format(Number(advice.without.sensitivity), 3)}.
            </>
          )}
        </p>
      )}
    </>
  );
}
