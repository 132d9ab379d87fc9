import { Button } from "antd";
import classNames from "classnames/bind";
import { useEffect, type ReactNode } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { handOver, readTarget, runOnTarget, type HandOver, type TargetView } from "../../state/targets";
import { format } from "../../ui/format";
import { StepCosts } from "./StepCosts";
import styles from "./target.module.css";

const cx = classNames.bind(styles);

/** How often the target is asked while it runs, ms. */
const EVERY = 500;

/** A run with code on a target: which unit has the plant, what is measured, and what its steps cost. */
export default function TargetBelow({ traces }: { traces: ReactNode }) {
  const { target, state, reached } = useBench(
    useShallow((s) => ({ target: s.run?.target, state: s.run?.state, reached: Number(s.run?.reached ?? 0) })),
  );
  useEffect(() => {
    if (state !== "running") return void readTarget();
    const timer = setInterval(() => void readTarget(), EVERY);
    return () => clearInterval(timer);
  }, [state]);
  if (!target) return null;
  return (
    <section className={cx("target")} aria-label="Code on a target">
      <div className={cx("units")}>
        <div className={cx("head")}>
          <b>{target.kind === "board" ? "Simulated board" : "On this machine"}</b>
          <Link target={target} />
        </div>
        {target.units.map((unit, i) => (
          <Unit key={unit.delivery} name={unit.name} number={i + 1} target={target} isOver={state === "finished"} />
        ))}
        <p className={cx("last")} role="status">
          {told(target, target.handOvers.at(-1))}
        </p>
        <p className="quiet">
          {format(reached)} s, a step every {format(Number(target.step) * 1e3)} ms
          {target.readsBefore && ", inputs read before outputs are given"}
        </p>
        {state === "finished" && (
          <Button size="small" onClick={() => void runOnTarget(target.units[0]?.delivery ?? "", target.kind)}>
            Run anew
          </Button>
        )}
      </div>
      <div className={cx("traces")}>{traces}</div>
      <StepCosts target={target} />
    </section>
  );
}

const Link = ({ target }: { target: TargetView }) => (
  <span
    className={cx("link", { there: target.isThere, lost: target.isLost })}
    title={target.isLost ? "What it gave last is old." : undefined}
  >
    {target.isThere ? "connected" : target.isLost ? "link lost" : "ended"}
  </span>
);

function Unit({ name, number, target, isOver }: { name: string; number: number; target: TargetView; isOver: boolean }) {
  const isActive = Number(target.active) === number;
  const since = target.handOvers.findLast((h) => Number(h.to) === number - 1)?.time;
  return (
    <button
      type="button"
      className={cx("unit")}
      aria-pressed={isActive}
      disabled={isOver && !isActive}
      title={isActive ? undefined : `Hand over to ${name}`}
      onClick={() => !isActive && void handOver(number)}
    >
      <b>{name}</b>
      <span>{isActive ? (since === undefined ? "has the plant" : `since ${format(Number(since))} s`) : isOver ? "" : "hand over"}</span>
    </button>
  );
}

/** What moved most as the plant was handed over. */
const told = (target: TargetView, over: HandOver | undefined) =>
  over
    ? `Handed over at ${format(Number(over.time))} s: ${over.output} ${format(Number(over.before))} → ${format(Number(over.after))}`
    : target.units.length > 1
      ? "Not handed over yet."
      : "";
