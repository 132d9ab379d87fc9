import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { placePart } from "../../state/fitted";
import { useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { Chart } from "./Chart";
import { NumberField } from "./NumberField";
import { useAnswer } from "../../state/useAnswer";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

type Answer = Schemas["FeedbackAnswer"];
const numbers = (v: readonly (number | string)[]) => v.map(Number);

interface Props {
  from: string;
  to: string;
  open: readonly string[];
  factor: number;
  unit: string;
}

/** State feedback with an observer and an integral part for the plant between two signals, by its weights. */
export function FeedbackView({ from, to, open, factor, unit }: Props) {
  const { id, revision } = useBench(useShallow((s) => ({ id: s.id, revision: s.view.resultsRevision })));
  const where = useTune(useShallow(whereOf));
  const speed = useTune((s) => Number(s.loops.find((l) => l.part === s.part)?.figures?.bandwidth ?? 1));
  const [own, setOwn] = useState<{ bandwidth?: number; observer?: number; integral?: number }>({});
  const [weights, setWeights] = useState<Answer["weights"] | null>(null);
  const bandwidth = own.bandwidth ?? Number(speed.toPrecision(3));
  const [observer, integral] = [own.observer ?? 4 * bandwidth, own.integral ?? bandwidth / 4];
  const asked = { from, to, open: [...open], ...where, bandwidth, observer, integral, weights };
  const { answer, problem, busy } = useAnswer<Answer>(
    () => ask(api.POST("/api/models/{id}/linear/feedback", { params: { path: { id } }, body: asked })),
    JSON.stringify([id, revision, asked]),
  );
  const speedField = (label: string, value: number, key: keyof typeof own, least: number) => (
    <label>
      {label}{" "}
      <NumberField
        label={`Bandwidth of the ${label}, rad/s`}
        value={value}
        fits={(v) => v >= least}
        put={(v) => {
          setWeights(null);
          setOwn({ ...own, [key]: v });
        }}
      />
    </label>
  );
  const used = weights ?? answer?.weights;
  const weight = (label: string, key: keyof Answer["weights"]) =>
    used && (
      <label>
        {label}{" "}
        <NumberField
          label={`Weight of the ${label}`}
          value={Number(used[key])}
          fits={(v) => v > 0 || (key === "integral" && v === 0)}
          put={(v) => setWeights({ ...used, [key]: v })}
        />
      </label>
    );
  return (
    <div className={cx("view")} aria-busy={busy}>
      <div className={cx("view-bar")}>
        <span>bandwidths, rad/s:</span>
        {speedField("feedback", bandwidth, "bandwidth", 1e-9)}
        {speedField("observer", observer, "observer", 1e-9)}
        {speedField("integral part", integral, "integral", 0)}
        <span>weights:</span>
        {weight("effort", "effort")}
        {weight("integral", "integral")}
        {weight("noise", "noise")}
        {answer && (
          <Button size="small" onClick={() => placePart("StateSpace", "State feedback", answer.texts, "The state feedback")}>
            Place it on the diagram
          </Button>
        )}
      </div>
      {problem && (
        <p className={cx("refusal")} role="alert">
          {problem.message} {problem.advice}
        </p>
      )}
      {answer && <Designed answer={answer} factor={factor} unit={unit} />}
    </div>
  );
}

function Designed({ answer, factor, unit }: { answer: Answer; factor: number; unit: string }) {
  const w = numbers(answer.frequencies).map((v) => v * factor);
  const times = numbers(answer.times);
  const curve = (name: string, x: number[], y: readonly (number | string)[]) => [{ name, x, y: numbers(y), color: "#0072B2", width: 1.6 }];
  return (
    <div className={cx("quarters")}>
      <Chart
        id="feedback-gain"
        title="Gain of the loop, dB"
        curves={curve("gain", w, answer.magnitude)}
        xLabel={`frequency, ${unit}`}
        logX
        rule={0}
        least={20}
        points={answer.gainCrossings.map((c) => ({
          x: Number(c.frequency) * factor,
          y: 0,
          text: `${format(Number(c.margin), 3)}° at ${format(Number(c.frequency) * factor, 3)} ${unit}`,
        }))}
      />
      <div className={cx("scrolled")}>
        {answer.isStable !== true && <p className={cx("warning")}>With its dead times the loop is not stable; let it be slower.</p>}
        <table className={cx("mode-table")} aria-label="Gains of the state feedback">
          <thead>
            <tr>
              <th scope="col">state</th>
              <th scope="col">feedback</th>
              <th scope="col">observer</th>
            </tr>
          </thead>
          <tbody>
            {[...answer.states, ...(answer.feedback.length > answer.states.length ? ["integral of the error"] : [])].map((s, i) => (
              <tr key={s}>
                <td>{s}</td>
                <td className="mono">{format(Number(answer.feedback[i]), 4)}</td>
                <td className="mono">{answer.observer[i] === undefined ? "–" : format(Number(answer.observer[i]), 4)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <table className={cx("fact-table")} aria-label="Figures of the state feedback">
          <tbody>
            <tr>
              <th scope="row">peak of sensitivity</th>
              <td className="mono">{answer.sensitivity == null ? "–" : format(Number(answer.sensitivity), 4)}</td>
            </tr>
            <tr>
              <th scope="row">delay margin, s</th>
              <td className="mono">{answer.delayMargin == null ? "–" : format(Number(answer.delayMargin), 4)}</td>
            </tr>
            <tr>
              <th scope="row">poles, rad/s</th>
              <td className="mono">{answer.poles.map((p) => format(Number(p.frequency), 3)).join(", ")}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <Chart id="feedback-step" title="Set-point step" curves={curve("step", times, answer.step)} xLabel="time, s" rule={1} />
      <div className={cx("facts")}>
        <Chart id="feedback-load" title="Load step of 1" curves={curve("load", times, answer.load)} xLabel="time, s" rule={0} />
        <Chart id="feedback-effort" title="Effort of the step" curves={curve("effort", times, answer.effort)} xLabel="time, s" rule={0} />
      </div>
    </div>
  );
}
