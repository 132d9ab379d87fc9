import classNames from "classnames/bind";
import { Button, Checkbox } from "antd";
import { useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ApiError, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { findSignals } from "../../state/signals";
import { SignalSelect } from "../../ui/SignalSelect";
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
  }>({});
  const [form, setForm] = useState({ order: 2, zeros: 0, integrators: 0, hasDelay: false });
  const [swept, setSwept] = useState<Schemas["SweepAnswer"] | null>(null);
  const [fit, setFit] = useState<Schemas["FitAnswer"] | null>(null);
  const [problem, setProblem] = useState<ApiError | null>(null);
  const [busy, setBusy] = useState(false);
  const cancel = useRef<AbortController | null>(null);
  const signal = own.signal ?? (loop ? `${loop.path}.u` : "");
  const [low, high, count] = [own.low ?? speed / 10, own.high ?? speed * 10, own.count ?? 16];
  const plant = own.plant ?? false;
  const told = (e: unknown) => setProblem(e instanceof ApiError ? e : new ApiError(0, String(e)));
  const measure = () => {
    cancel.current = new AbortController();
    setBusy(true);
    setFit(null);
    ask(
      api.POST("/api/models/{id}/sweep", {
        params: { path: { id } },
        body: {
          signal,
          from: null,
          to: plant && loop ? `${loop.path}.y` : null,
          low,
          high,
          count,
          amplitude: own.amplitude ?? null,
          ...where,
          limit: null,
        },
        signal: cancel.current.signal,
      }),
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
        <label>
          sine added to{" "}
          <SignalSelect
            find={findSignals}
            label="Signal to which a sine is added"
            placeholder="signal"
            value={signal ? { signal, label: signal } : null}
            onChange={(v) => setOwn({ ...own, signal: v })}
            className={cx("signal")}
          />
        </label>
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
        <label>
          amplitude{" "}
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
        </div>
      ) : (
        <p className={cx("view-note")}>
          {busy
            ? "Measuring: the model runs with one sine after the other until its waves have settled."
            : "A sine is added to a signal of the running model, with its switches, samples and limits, and the answer is measured at each frequency."}
        </p>
      )}
    </div>
  );
}
