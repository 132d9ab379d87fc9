import classNames from "classnames/bind";
import { Button, Checkbox, Select } from "antd";
import { useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ApiError, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { findSignals } from "../../state/signals";
import { SignalSelect } from "../../ui/SignalSelect";
import { placeModel } from "../../state/fitted";
import { Chart } from "./Chart";
import { NumberField } from "./NumberField";
import { saveTable } from "./saveTable";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

/** Phases without jumps. */
export function unwrapped(phases: readonly number[]): number[] {
  const out: number[] = [];
  for (const p of phases) {
    const before = out[out.length - 1];
    out.push(before === undefined ? (p > 90 ? p - 360 : p) : p + 360 * Math.round((before - p) / 360));
  }
  // A loop is looked at around −180°.
  const turn = out.length > 0 && out.reduce((sum, p) => sum + p, 0) / out.length > 30 ? -360 : 0;
  return out.map((p) => p + turn);
}

type Kind = "sweep" | "step" | "pulse" | "relay";

const kinds: { value: Kind; label: string }[] = [
  { value: "sweep", label: "sines" },
  { value: "step", label: "step" },
  { value: "pulse", label: "pulse" },
  { value: "relay", label: "relay" },
];

const notes: Record<Kind, string> = {
  sweep:
    "A sine is added to a signal of the running model, with its switches, samples and limits, and the answer is measured at each frequency.",
  step: "A step is added to a signal of the running model beside what its controller does; from what moves beyond a run without it comes the response.",
  pulse: "A pulse is added for a tenth of the test; what it moves comes back, so that it suits plants that a step would carry away.",
  relay:
    "A level is added that turns its sign whenever the measured value passes where it was: the loop swings about there, at the frequency that limits it.",
};

const largest = (v: readonly (number | string)[]) => Math.max(...v.map((x) => Math.abs(Number(x))));

type Form = { order: number; zeros: number; integrators: number; hasDelay: boolean };

/** Models that most plants come near to. */
const forms: { value: string; label: string; form: Form }[] = [
  { value: "first", label: "first order with dead time", form: { order: 1, zeros: 0, integrators: 0, hasDelay: true } },
  { value: "second", label: "second order with dead time", form: { order: 2, zeros: 0, integrators: 0, hasDelay: true } },
  { value: "integrating", label: "integrating with dead time", form: { order: 0, zeros: 0, integrators: 1, hasDelay: true } },
  { value: "lagging", label: "integrating, lag and dead time", form: { order: 1, zeros: 0, integrators: 1, hasDelay: true } },
];

const sameForm = (a: Form, b: Form) => (Object.keys(a) as (keyof Form)[]).every((k) => a[k] === b[k]);

/** A frequency response of the running model beside the linear one, and a transfer function for it. */
export function MeasuredView() {
  const id = useBench((s) => s.id);
  const where = useTune(useShallow(whereOf));
  const { loops, part } = useTune(useShallow((s) => ({ loops: s.loops, part: s.part })));
  const loop = loops.find((l) => l.part === part);
  const speed = Number(loop?.figures?.bandwidth ?? 1);
  const [own, setOwn] = useState<{
    signal?: string;
    plant?: boolean;
    low?: number;
    high?: number;
    count?: number;
    amplitude?: number | null;
    duration?: number;
  }>({});
  const [kind, setKind] = useState<Kind>("sweep");
  const [form, setForm] = useState({ order: 2, zeros: 0, integrators: 0, hasDelay: false });
  const [swept, setSwept] = useState<Schemas["SweepAnswer"] | null>(null);
  const [fit, setFit] = useState<Schemas["FitAnswer"] | null>(null);
  const [problem, setProblem] = useState<ApiError | null>(null);
  const [busy, setBusy] = useState(false);
  const cancel = useRef<AbortController | null>(null);
  const signal = own.signal ?? (loop ? `${loop.path}.u` : "");
  const [low, high, count] = [own.low ?? speed / 10, own.high ?? speed * 10, own.count ?? 16];
  const plant = own.plant ?? false;
  const isSweep = kind === "sweep";
  const duration = own.duration ?? Number((60 / speed).toPrecision(2));
  const told = (e: unknown) => setProblem(e instanceof ApiError ? e : new ApiError(0, String(e)));
  const measure = () => {
    cancel.current = new AbortController();
    setBusy(true);
    setFit(null);
    const params = { path: { id } };
    const { signal: stop } = cancel.current;
    const shared = { signal, ...where, limit: null };
    const to = loop ? `${loop.path}.y` : signal;
    (isSweep
      ? ask(
          api.POST("/api/models/{id}/sweep", {
            params,
            body: { ...shared, from: null, to: plant ? to : null, low, high, count, amplitude: own.amplitude ?? null },
            signal: stop,
          }),
        )
      : ask(
          api.POST("/api/models/{id}/transient", {
            params,
            body: { ...shared, to, kind, height: own.amplitude ?? null, duration },
            signal: stop,
          }),
        )
    )
      .then(
        (a) => (setSwept(a), setProblem(null)),
        (e: unknown) => !cancel.current?.signal.aborted && told(e),
      )
      .finally(() => setBusy(false));
  };
  const good = swept?.points.filter((p) => p.re != null && p.im != null) ?? [];
  const lost = swept?.points.filter((p) => p.problem) ?? [];
  const w = good.map((p) => Number(p.frequency));
  const model = () =>
    ask(
      api.POST("/api/fit", {
        body: { frequencies: w, re: good.map((p) => Number(p.re)), im: good.map((p) => Number(p.im)), ...form },
      }),
    ).then((f) => (setFit(f), setProblem(null)), told);
  const all = swept?.points.map((p) => Number(p.frequency)) ?? [];
  const beside = (y: readonly (number | string)[], name: string, x: number[], color: string) =>
    y.length > 0 ? [{ name, x, y: y.map(Number), color, width: 1.5 }] : [];
  const phase = unwrapped(good.map((p) => Number(p.phase)));
  // Curves whose phases began on other turns are laid beside the measured one.
  const turned = (y: readonly (number | string)[], first: number) => {
    const shift = 360 * Math.round(((phase[0] ?? 0) - Number(y[first] ?? 0)) / 360);
    return y.map((v) => Number(v) + shift);
  };
  return (
    <div className={cx("view")} aria-busy={busy}>
      <div className={cx("view-bar")}>
        <Select
          size="small"
          aria-label="Kind of test"
          value={kind}
          options={kinds}
          onChange={(k: Kind) => {
            setKind(k);
            setSwept(null);
            setFit(null);
          }}
          popupMatchSelectWidth={false}
        />
        <label>
          added to{" "}
          <SignalSelect
            find={findSignals}
            label="Signal to which the test is added"
            placeholder="signal"
            value={signal ? { signal, label: signal } : null}
            onChange={(v) => setOwn({ ...own, signal: v })}
            className={cx("signal")}
          />
        </label>
        {isSweep ? (
          <>
            <Checkbox checked={plant} disabled={!loop} onChange={(e) => setOwn({ ...own, plant: e.target.checked })}>
              to the measured value
            </Checkbox>
            <label>
              from <NumberField label="Lowest frequency, rad/s" value={low} put={(v) => setOwn({ ...own, low: v })} />
            </label>
            <label>
              to <NumberField label="Highest frequency, rad/s" value={high} put={(v) => setOwn({ ...own, high: v })} /> rad/s
            </label>
            <label>
              <NumberField
                label="How many frequencies"
                value={count}
                fits={(v) => Number.isInteger(v) && v >= 2 && v <= 120}
                put={(v) => setOwn({ ...own, count: v })}
              />{" "}
              points
            </label>
          </>
        ) : (
          <label>
            for <NumberField label="Duration of the test, s" value={duration} put={(v) => setOwn({ ...own, duration: v })} /> s
          </label>
        )}
        <label>
          {isSweep ? "amplitude" : "height"}{" "}
          <NumberField
            label="Amplitude"
            value={own.amplitude ?? (swept ? Number(swept.amplitude) : null)}
            put={(v) => setOwn({ ...own, amplitude: v })}
          />
        </label>
        {busy ? (
          <Button size="small" onClick={() => cancel.current?.abort()}>
            Cancel
          </Button>
        ) : (
          <Button size="small" type="primary" disabled={!signal} onClick={measure}>
            Measure
          </Button>
        )}
      </div>
      {problem && (
        <p className={cx("refusal")} role="alert">
          {problem.message} {problem.advice}
        </p>
      )}
      {swept ? (
        <div className={cx("quarters")}>
          <Chart
            id="measured-gain"
            title="Gain, dB: measured ○, linear blue, fitted green"
            curves={[...beside(swept.linearMagnitude, "linear", all, "#0072B2"), ...beside(fit?.magnitude ?? [], "fitted", w, "#009E73")]}
            points={good.map((p) => ({
              x: Number(p.frequency),
              y: Number(p.magnitude),
              color: Number(p.coherence) < 0.9 ? "#F2E9D2" : "#fff",
            }))}
            xLabel="frequency, rad/s"
            logX
            rule={0}
            least={20}
          />
          <div className={cx("scrolled", "fit-box")}>
            <h3 className={cx("section")}>A model for it</h3>
            <p className={cx("fit-form")}>
              <Select
                size="small"
                aria-label="Usual forms of models"
                value={forms.find((f) => sameForm(f.form, form))?.value ?? ""}
                options={[...forms, { value: "", label: "another form" }].map(({ value, label }) => ({ value, label }))}
                onChange={(v) => setForm(forms.find((f) => f.value === v)?.form ?? form)}
                popupMatchSelectWidth={false}
              />{" "}
              order{" "}
              <NumberField
                label="Order of the denominator"
                value={form.order}
                fits={(v) => Number.isInteger(v) && v >= 0 && v <= 12}
                put={(order) => setForm({ ...form, order })}
              />{" "}
              zeros{" "}
              <NumberField
                label="Order of the numerator"
                value={form.zeros}
                fits={(v) => Number.isInteger(v) && v >= 0 && v <= 12}
                put={(zeros) => setForm({ ...form, zeros })}
              />{" "}
              integrators{" "}
              <NumberField
                label="Integrators"
                value={form.integrators}
                fits={(v) => Number.isInteger(v) && v >= 0 && v <= 4}
                put={(integrators) => setForm({ ...form, integrators })}
              />{" "}
              <Checkbox checked={form.hasDelay} onChange={(e) => setForm({ ...form, hasDelay: e.target.checked })}>
                dead time
              </Checkbox>
              <Button size="small" disabled={good.length < 2} onClick={() => void model()}>
                Fit
              </Button>
            </p>
            {fit && (
              <table className={cx("fact-table")} aria-label="Fitted model">
                <tbody>
                  <tr>
                    <th scope="row">b</th>
                    <td className="mono">{`{${fit.numerator.map((v) => format(Number(v), 5)).join(", ")}}`}</td>
                  </tr>
                  <tr>
                    <th scope="row">a</th>
                    <td className="mono">{`{${fit.denominator.map((v) => format(Number(v), 5)).join(", ")}}`}</td>
                  </tr>
                  <tr>
                    <th scope="row">dead time</th>
                    <td className="mono">{format(Number(fit.delay), 4)} s</td>
                  </tr>
                  <tr>
                    <th scope="row">quality</th>
                    <td className="mono">{format(100 * Number(fit.quality), 4)} %</td>
                  </tr>
                  <tr>
                    <th scope="row">largest error</th>
                    <td className="mono">{format(100 * Number(fit.largestError), 3)} %</td>
                  </tr>
                </tbody>
              </table>
            )}
            {fit && (
              <Button size="small" onClick={() => placeModel(fit)}>
                Place it on the diagram
              </Button>
            )}
            {fit && !fit.isStable && <p className={cx("warning")}>The fitted model is unstable.</p>}
            <Button
              size="small"
              disabled={good.length === 0}
              onClick={() =>
                saveTable("response.csv", [
                  ["frequency", "re", "im", "coherence"],
                  ...good.map((p) => [Number(p.frequency), Number(p.re), Number(p.im), Number(p.coherence)]),
                ])
              }
            >
              Save CSV
            </Button>
            {swept.record && Number(swept.record.moved) > 2 * largest(swept.record.output) && (
              <p className={cx("warning")}>
                Without the test the answer moves by {format(Number(swept.record.moved), 3)} meanwhile, so this is no response about one
                point. Choose an instant and a duration in which the model rests.
              </p>
            )}
            {swept.noLinear && <p className="quiet">No linear response beside it: {swept.noLinear}</p>}
            {lost.length > 0 && (
              <ul className={cx("lost")}>
                {lost.map((p) => (
                  <li key={String(p.frequency)}>
                    {format(Number(p.frequency), 3)} rad/s: {p.problem}
                  </li>
                ))}
              </ul>
            )}
          </div>
          <Chart
            id="measured-phase"
            title="Phase, °"
            curves={[
              ...beside(turned(swept.linearPhase, 0), "linear", all, "#0072B2"),
              ...beside(turned(fit?.phase ?? [], 0), "fitted", w, "#009E73"),
            ]}
            points={good.map((p, i) => ({ x: Number(p.frequency), y: phase[i] as number }))}
            xLabel="frequency, rad/s"
            logX
            rule={-180}
            least={60}
          />
          {swept.record ? (
            <Chart
              id="record"
              title="What answered, beyond a run without the test"
              curves={beside(swept.record.output, "answer", swept.record.times.map(Number), "#D5471B")}
              xLabel="time of the test, s"
              rule={0}
            />
          ) : (
            <Chart
              id="coherence"
              title="Purity: share of the answer at its frequency"
              curves={[{ name: "purity", x: w, y: good.map((p) => Number(p.purity)), color: "#5B6E80" }]}
              points={good.map((p) => ({ x: Number(p.frequency), y: Number(p.purity) }))}
              xLabel="frequency, rad/s"
              logX
              rule={1}
              least={1}
            />
          )}
        </div>
      ) : (
        <p className={cx("view-note")}>
          {busy
            ? isSweep
              ? "Measuring: the model runs with one sine after the other until its waves have settled."
              : "Measuring: the model runs with the test and without."
            : notes[kind]}
        </p>
      )}
    </div>
  );
}
