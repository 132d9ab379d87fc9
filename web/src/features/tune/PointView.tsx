import classNames from "classnames/bind";
import { Button, Input } from "antd";
import { useState } from "react";
import { api, ApiError, ask, type Schemas } from "../../api/client";
import { edit } from "../../state/model";
import { notify, useBench } from "../../state/bench";
import { format } from "../../ui/format";
import { findSignals } from "../../state/signals";
import { SignalSelect } from "../../ui/SignalSelect";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

interface Fixed {
  signal: string;
  value: string;
}

interface Free {
  parameter: string;
  low: string;
  high: string;
}

/** A state in which nothing changes: what must have which value there, and which parameters may change for it. */
export function PointView() {
  const id = useBench((s) => s.id);
  const revision = useBench((s) => s.revision);
  const [fixed, setFixed] = useState<Fixed[]>([]);
  const [free, setFree] = useState<Free[]>([]);
  const [found, setFound] = useState<{ answer: Schemas["SteadyAnswer"]; revision: number } | null>(null);
  const [problem, setProblem] = useState<ApiError | null>(null);
  const [busy, setBusy] = useState(false);
  const [filter, setFilter] = useState("");
  const search = () => {
    setBusy(true);
    ask(
      api.POST("/api/models/{id}/steady", {
        params: { path: { id } },
        body: {
          fixed: fixed.filter((f) => f.signal && f.value),
          free: free.filter((f) => f.parameter).map((f) => ({ parameter: f.parameter, low: f.low || null, high: f.high || null })),
        },
      }),
    )
      .then(
        (answer) => (setFound({ answer, revision }), setProblem(null)),
        (e: unknown) => (setFound(null), setProblem(e instanceof ApiError ? e : new ApiError(0, String(e)))),
      )
      .finally(() => setBusy(false));
  };
  const answer = found?.answer;
  const apply = () => {
    const operations =
      answer?.free.flatMap((f) => (f.text && f.pointer ? [{ op: "add" as const, path: f.pointer, value: f.text }] : [])) ?? [];
    if (operations.length === 0) return;
    edit("Set what the operating point needs", operations);
    notify("The found values are set; undo takes them back.");
  };
  const shown = answer?.values.filter((v) => v.signal.toLowerCase().includes(filter.toLowerCase())) ?? [];
  return (
    <div className={cx("view", "halves")} aria-busy={busy}>
      <form
        className={cx("scrolled", "point-form")}
        aria-label="Operating point"
        onSubmit={(e) => {
          e.preventDefault();
          search();
        }}
      >
        <h3 className={cx("section")}>At rest, and with these values</h3>
        {fixed.map((f, i) => (
          <div key={i} className={cx("point-row")}>
            <SignalSelect
              find={findSignals}
              label={`Fixed signal ${i + 1}`}
              placeholder="signal"
              value={f.signal ? { signal: f.signal, label: f.signal } : null}
              onChange={(signal) => setFixed(fixed.map((x, k) => (k === i ? { ...x, signal } : x)))}
              className={cx("signal")}
            />
            <Input
              size="small"
              aria-label={`Value of fixed signal ${i + 1}`}
              placeholder="as in 20 m"
              value={f.value}
              onChange={(e) => setFixed(fixed.map((x, k) => (k === i ? { ...x, value: e.target.value } : x)))}
            />
            <Button
              type="text"
              size="small"
              aria-label={`Take away fixed signal ${i + 1}`}
              onClick={() => setFixed(fixed.filter((_, k) => k !== i))}
            >
              ×
            </Button>
          </div>
        ))}
        <Button type="link" size="small" onClick={() => setFixed([...fixed, { signal: "", value: "" }])}>
          Fix a signal
        </Button>
        <h3 className={cx("section")}>For which these parameters may change</h3>
        {free.map((f, i) => (
          <div key={i} className={cx("point-row")}>
            {(
              [
                ["parameter", `Free parameter ${i + 1}`, "path, as in Tank.area"],
                ["low", `Lowest value of free parameter ${i + 1}`, "at least"],
                ["high", `Highest value of free parameter ${i + 1}`, "at most"],
              ] as const
            ).map(([key, label, placeholder]) => (
              <Input
                key={key}
                size="small"
                aria-label={label}
                placeholder={placeholder}
                value={f[key]}
                onChange={(e) => setFree(free.map((x, k) => (k === i ? { ...x, [key]: e.target.value } : x)))}
              />
            ))}
            <Button
              type="text"
              size="small"
              aria-label={`Take away free parameter ${i + 1}`}
              onClick={() => setFree(free.filter((_, k) => k !== i))}
            >
              ×
            </Button>
          </div>
        ))}
        <Button type="link" size="small" onClick={() => setFree([...free, { parameter: "", low: "", high: "" }])}>
          Free a parameter
        </Button>
        <p>
          <Button size="small" type="primary" htmlType="submit" loading={busy}>
            Find the state at rest
          </Button>
        </p>
        {problem && (
          <p className={cx("refusal")} role="alert">
            {problem.message} {problem.advice}
          </p>
        )}
        {answer && (
          <>
            <p className={cx(answer.isMet ? "good" : "warning")} role="status">
              {answer.isMet
                ? "Nothing changes here, and all values are met."
                : "No state at rest has all these values; this is the nearest one found."}
              {found && found.revision !== revision ? " The model has changed since." : ""}
            </p>
            <table className={cx("fact-table")} aria-label="What was found">
              <tbody>
                {answer.fixed.map((f) => (
                  <tr key={f.signal}>
                    <th scope="row">{f.signal}</th>
                    <td className="mono">
                      {format(Number(f.reached), 5)} {f.unit}
                      {Math.abs(Number(f.reached) - Number(f.wanted)) > 1e-6 * Math.abs(Number(f.wanted)) &&
                        ` of ${format(Number(f.wanted), 5)}`}
                    </td>
                  </tr>
                ))}
                {answer.free.map((f) => (
                  <tr key={f.parameter}>
                    <th scope="row">{f.parameter}</th>
                    <td className="mono">
                      {f.text ?? `${format(Number(f.value), 5)} ${f.unit}`}
                      {f.isAtBound && " (at its bound)"}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {answer.free.length > 0 && (
              <Button size="small" onClick={apply}>
                Put the found values into the model
              </Button>
            )}
          </>
        )}
      </form>
      <div className={cx("scrolled")}>
        {answer ? (
          <>
            <Input
              size="small"
              aria-label="Filter the signals at rest"
              placeholder="Filter"
              value={filter}
              onChange={(e) => setFilter(e.target.value)}
              allowClear
            />
            <table className={cx("mode-table")} aria-label="Signals at rest">
              <thead>
                <tr>
                  <th scope="col">signal</th>
                  <th scope="col">value</th>
                  <th scope="col">unit</th>
                </tr>
              </thead>
              <tbody>
                {shown.slice(0, 400).map((v) => (
                  <tr key={v.signal}>
                    <td>
                      {v.signal}
                      {v.isState && <i className="quiet"> state</i>}
                    </td>
                    <td className="mono">{format(Number(v.value), 5)}</td>
                    <td>{v.unit}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        ) : (
          <p className={cx("view-note")}>
            A search finds the state in which nothing changes. Fix signals to have them at wanted values, and free as many parameters for
            it: a source, a set-point, a valve.
          </p>
        )}
      </div>
    </div>
  );
}
