import classNames from "classnames/bind";
import { Button, Popconfirm, Select } from "antd";
import { useEffect } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { applyAll, cascadeOf, setMeasured, stop, tuneAll, useCascade } from "../../state/cascade";
import { useTune } from "../../state/tune";
import { CascadeRow } from "./CascadeRow";
import { Chart } from "./Chart";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);
const numbers = (v: readonly (number | string)[]) => v.map(Number);

/** All loops one after the other, inner ones first, on the running model. */
export function CascadeView() {
  const { id, revision } = useBench(useShallow((s) => ({ id: s.id, revision: s.revision })));
  const { loops, part } = useTune(useShallow((s) => ({ loops: s.loops, part: s.part })));
  const { measured, results, running, problem, before, after } = useCascade();
  useEffect(() => cascadeOf(`${id} ${revision}`), [id, revision]);
  const shown = results.get(part ?? "")?.measured ?? [...results.values()].at(-1)?.measured;
  const named = loops.find((l) => results.get(l.part)?.measured === shown)?.name;
  const warned = loops.filter((l) => results.get(l.part)?.warning);
  const name = (p: string) => loops.find((l) => l.part === p)?.name ?? "";
  const w = numbers(shown?.frequencies ?? []);
  const colors = { measured: "#17324D", fitted: "#D5471B" };
  const pair = (y: readonly (number | string)[], fitted: readonly (number | string)[]) => ({
    curves: [{ name: "fitted", x: w, y: numbers(fitted), color: colors.fitted, width: 1.6 }],
    points: w.map((x, i) => ({ x, y: Number(y[i]) })),
  });
  const all = (
    <Button size="small" disabled={results.size === 0 || running !== null} {...(warned.length > 0 ? {} : { onClick: applyAll })}>
      Apply all
    </Button>
  );
  return (
    <div className={cx("view")} aria-busy={running !== null}>
      <div className={cx("view-bar")}>
        {running === null ? (
          <Button size="small" type="primary" disabled={loops.length === 0} onClick={() => void tuneAll()}>
            Tune all, inner to outer
          </Button>
        ) : (
          <Button size="small" onClick={stop}>
            Stop
          </Button>
        )}
        {warned.length > 0 ? (
          <Popconfirm
            title={warned.map((l) => `${l.name}: ${results.get(l.part)?.warning ?? ""}`).join(" ")}
            okText="Apply all the same"
            cancelText="Leave them"
            onConfirm={applyAll}
          >
            {all}
          </Popconfirm>
        ) : (
          all
        )}
        <label>
          plants{" "}
          <Select
            size="small"
            aria-label="Where the plants come from"
            value={measured ? "measured" : "linear"}
            options={[
              { value: "measured", label: "measured on the running model" },
              { value: "linear", label: "of the linear model" },
            ]}
            onChange={(v) => setMeasured(v === "measured")}
            popupMatchSelectWidth={false}
          />
        </label>
        <span role="status">
          {running === "run"
            ? "running the model before and after"
            : running !== null
              ? `${measured ? "exciting and measuring" : "tuning"} ${name(running)}`
              : ""}
        </span>
      </div>
      {problem && (
        <p className={cx("refusal")} role="alert">
          {name(problem.part)}: {problem.text}
        </p>
      )}
      <table className={cx("cascade")} aria-label="Loops, inner to outer">
        <thead>
          <tr>
            <th scope="col">loop</th>
            <th scope="col">form</th>
            <th scope="col">wish</th>
            <th scope="col">{measured ? "excitation" : ""}</th>
            <th scope="col">gains</th>
            <th scope="col">rad/s</th>
            <th scope="col">Ms</th>
          </tr>
        </thead>
        <tbody>
          {loops.map((l) => (
            <CascadeRow key={l.part} loop={l} />
          ))}
        </tbody>
      </table>
      <div className={cx("cascade-charts")}>
        {shown ? (
          <>
            <Chart
              id="plant-gain"
              title={`Plant of ${named ?? ""}, dB: ${shown.model}`}
              {...pair(shown.magnitude, shown.fittedMagnitude)}
              xLabel="frequency, rad/s"
              logX
              least={20}
            />
            <Chart id="plant-phase" title="Phase, °" {...pair(shown.phase, shown.fittedPhase)} xLabel="frequency, rad/s" logX least={60} />
          </>
        ) : (
          <p className={cx("view-note")}>
            {measured
              ? "Each loop is excited beside its controller's own action at the operating point, its plant measured, gains found and put in before the next loop’s turn. Nothing changes in the model until all are applied."
              : "Each loop is tuned on the linear model with the gains that were found for those inside it. Nothing changes in the model until all are applied."}
          </p>
        )}
        {before && after && (
          <Chart
            id="before-after"
            title="True run, error before and after"
            curves={[
              { name: "then", x: numbers(after.error.times), y: numbers(after.error.values), color: "#D5471B", width: 1.8 },
              { name: "now", x: numbers(before.error.times), y: numbers(before.error.values), color: "#6B7F92", width: 1.3 },
            ]}
            xLabel="time, s"
            rule={0}
          />
        )}
      </div>
    </div>
  );
}
