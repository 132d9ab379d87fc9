import classNames from "classnames/bind";
import { Button, Segmented } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { findSignals } from "../../state/signals";
import { SignalSelect } from "../../ui/SignalSelect";
import { Chart } from "./Chart";
import { Plane } from "./Plane";
import { saveTable } from "./saveTable";
import { useAnswer } from "./useAnswer";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

type Answer = Schemas["LinearAnswer"];
const numbers = (v: readonly (number | string)[]) => v.map(Number);

/** The linear system between two signals: its response, poles and zeros, and its step. */
export function LinearView() {
  const { id, revision } = useBench(useShallow((s) => ({ id: s.id, revision: s.revision })));
  const where = useTune(useShallow(whereOf));
  const { loops, part } = useTune(useShallow((s) => ({ loops: s.loops, part: s.part })));
  const path = loops.find((l) => l.part === part)?.path;
  const [own, setOwn] = useState<{ from?: string; to?: string; open?: string | null }>({});
  const [hertz, setHertz] = useState(false);
  const [plane, setPlane] = useState<"nyquist" | "poles">("nyquist");
  const from = own.from ?? (path ? `${path}.u` : "");
  const to = own.to ?? (path ? `${path}.y` : "");
  const open = own.open === undefined ? from : own.open;
  const key = JSON.stringify([id, revision, where, from, to, open]);
  const { answer, problem, busy } = useAnswer<Answer>(
    from && to
      ? () =>
          ask(
            api.POST("/api/models/{id}/linear", {
              params: { path: { id } },
              body: { from, to, open, ...where, lowFrequency: null, highFrequency: null },
            }),
          )
      : null,
    key,
  );
  const named = (signal: string) => ({ signal, label: signal });
  const factor = hertz ? 1 / (2 * Math.PI) : 1;
  const unit = hertz ? "Hz" : "rad/s";
  const w = answer ? numbers(answer.frequencies).map((v) => v * factor) : [];
  return (
    <div className={cx("view")} aria-busy={busy}>
      <div className={cx("view-bar")}>
        <label>
          from{" "}
          <SignalSelect
            find={findSignals}
            label="Signal that goes in"
            placeholder="signal"
            value={from ? named(from) : null}
            onChange={(v) => setOwn({ ...own, from: v })}
            className={cx("signal")}
          />
        </label>
        <label>
          to{" "}
          <SignalSelect
            find={findSignals}
            label="Signal that comes out"
            placeholder="signal"
            value={to ? named(to) : null}
            onChange={(v) => setOwn({ ...own, to: v })}
            className={cx("signal")}
          />
        </label>
        <Button size="small" aria-pressed={open !== null} onClick={() => setOwn({ ...own, open: open === null ? from : null })}>
          {open === null ? "loop closed" : "loop cut where it goes in"}
        </Button>
        <Segmented size="small" value={unit} options={["rad/s", "Hz"]} onChange={(v) => setHertz(v === "Hz")} />
        <Button
          size="small"
          disabled={!answer}
          onClick={() =>
            answer &&
            saveTable("response.csv", [
              ["frequency", "re", "im"],
              ...numbers(answer.frequencies).map((f, i) => [f, Number(answer.re[i]), Number(answer.im[i])]),
            ])
          }
        >
          Save CSV
        </Button>
      </div>
      {problem && (
        <p className={cx("refusal")} role="alert">
          {problem.message} {problem.advice}
        </p>
      )}
      {answer && (
        <div className={cx("quarters")}>
          <Chart
            id="gain"
            title="Gain, dB"
            curves={[{ name: "gain", x: w, y: numbers(answer.magnitude), color: "#0072B2", width: 1.8 }]}
            xLabel={`frequency, ${unit}`}
            logX
            rule={0}
            least={20}
            points={answer.gainCrossings.map((c) => ({
              x: Number(c.frequency) * factor,
              y: 0,
              text: `${format(Number(c.frequency) * factor, 3)} ${unit}`,
            }))}
          />
          <div className={cx("plane-box")}>
            <Segmented
              size="small"
              value={plane}
              options={[
                { value: "nyquist", label: "Nyquist" },
                { value: "poles", label: "Poles and zeros" },
              ]}
              onChange={(v) => setPlane(v as "nyquist" | "poles")}
            />
            {plane === "nyquist" ? <Nyquist answer={answer} /> : <Roots answer={answer} />}
          </div>
          <Chart
            id="phase"
            title="Phase, °"
            curves={[{ name: "phase", x: w, y: numbers(answer.phase), color: "#0072B2", width: 1.8 }]}
            xLabel={`frequency, ${unit}`}
            logX
            rule={-180}
            least={60}
            points={answer.phaseCrossings.slice(0, 4).map((c) => ({ x: Number(c.frequency) * factor, y: -180 }))}
          />
          <div className={cx("facts")}>
            <Chart
              id="step"
              title="Step of the input"
              curves={[{ name: "step", x: numbers(answer.times), y: numbers(answer.step), color: "#0072B2", width: 1.8 }]}
              xLabel="time, s"
              rule={0}
            />
            <Facts answer={answer} factor={factor} unit={unit} />
          </div>
        </div>
      )}
    </div>
  );
}

/** What the loop's curve does about −1, with circles of equal peak. */
function Nyquist({ answer }: { answer: Answer }) {
  const points = numbers(answer.re).map((re, i) => [re, Number(answer.im[i])] as const);
  // What runs off to infinity at an integrator says nothing about −1.
  const near = points.filter(([a, b]) => Math.hypot(a + 1, b) < 2);
  const peak = answer.sensitivity === null || answer.sensitivity === undefined ? null : Number(answer.sensitivity);
  return (
    <Plane
      id="nyquist"
      title="Response in the complex plane"
      curves={[
        { name: "nyquist", x: points.map((p) => p[0]), y: points.map((p) => p[1]), color: "#0072B2", width: 1.8 },
        { name: "below zero", x: points.map((p) => p[0]), y: points.map((p) => -p[1]), color: "#9DB8CB", width: 1 },
      ]}
      seen={[[-2, 0], [0.6, 0], [-1, 1.1], [-1, -1.1], ...near]}
      circles={[
        { x: 0, y: 0, r: 1 },
        ...(peak && Number.isFinite(peak) ? [{ x: -1, y: 0, r: 1 / peak, text: `Ms ${format(peak, 3)}` }] : []),
      ]}
      labels={["real part", "imaginary part"]}
      marks={[{ x: -1, y: 0, text: "−1" }]}
    />
  );
}

function Roots({ answer }: { answer: Answer }) {
  const pair = (r: Schemas["RootView"]) => [Number(r.re), Number(r.im)] as const;
  const [poles, zeros] = [answer.poles.map(pair), answer.zeros.map(pair)];
  const size = Math.max(...[...poles, ...zeros].map(([a, b]) => Math.hypot(a, b)), 1e-9);
  return (
    <Plane
      id="roots"
      title="Poles ✕ and zeros ○, with rays of damping 0.2, 0.5 and 0.8"
      crosses={poles}
      rings={zeros}
      seen={[...poles, ...zeros, [-size * 0.2, 0]]}
      circles={[0.25, 0.5, 0.75, 1].map((s) => ({ x: 0, y: 0, r: s * size }))}
      rays={[0.2, 0.5, 0.8]}
      labels={["real part, 1/s", "imaginary part, 1/s"]}
    />
  );
}

function Facts({ answer, factor, unit }: { answer: Answer; factor: number; unit: string }) {
  const decibels = (v: number) => `${format(20 * Math.log10(v), 3)} dB`;
  return (
    <table className={cx("fact-table")} aria-label="Figures of the loop">
      <tbody>
        {answer.gainCrossings.map((c) => (
          <tr key={`g${String(c.frequency)}`}>
            <th scope="row">
              phase margin at {format(Number(c.frequency) * factor, 3)} {unit}
            </th>
            <td className="mono">{format(Number(c.margin), 4)}°</td>
          </tr>
        ))}
        {answer.phaseCrossings.slice(0, 4).map((c) => (
          <tr key={`p${String(c.frequency)}`}>
            <th scope="row">
              gain margin at {format(Number(c.frequency) * factor, 3)} {unit}
            </th>
            <td className="mono">{decibels(Number(c.margin))}</td>
          </tr>
        ))}
        {answer.delayMargin != null && (
          <tr>
            <th scope="row">delay margin</th>
            <td className="mono">{format(Number(answer.delayMargin), 4)} s</td>
          </tr>
        )}
        {answer.sensitivity != null && (
          <tr>
            <th scope="row">peak of sensitivity</th>
            <td className="mono">{format(Number(answer.sensitivity), 4)}</td>
          </tr>
        )}
        {answer.complementary != null && (
          <tr>
            <th scope="row">peak of complementary sensitivity</th>
            <td className="mono">{format(Number(answer.complementary), 4)}</td>
          </tr>
        )}
        {answer.period != null && (
          <tr>
            <th scope="row">all samples again after</th>
            <td className="mono">{format(Number(answer.period), 4)} s</td>
          </tr>
        )}
        <tr>
          <th scope="row">states, {answer.point}</th>
          <td className="mono">{answer.states}</td>
        </tr>
      </tbody>
    </table>
  );
}
