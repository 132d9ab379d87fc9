import classNames from "classnames/bind";
import { Button, Input, Radio, Select, Slider, Spin } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ApiError, ask, type CandidateView, type TuneAnswer } from "../../api/client";
import { format } from "../../ui/format";
import { referenceOf, type Operation } from "../../state/document";
import { edit, here } from "../../state/model";
import { select, notify, runSettings, useBench } from "../../state/bench";
import { PALETTE } from "../../plots/colors";
import { Plot, type Line } from "../../plots/Plot";
import { EmptyStage, StageHead, StagePane } from "../../ui/StagePane";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

const colors: Record<string, string> = { present: "#5B6E80", P: PALETTE[1], PI: PALETTE[0], PD: PALETTE[3], PID: PALETTE[2] };

/** Tuning of one loop: wanted bandwidth and margin, candidates side by side, apply with undo. */
export default function TuneStage() {
  const { id, level, diagram, catalog, tunePart, time, revision } = useBench(
    useShallow((s) => ({
      id: s.id,
      level: s.level,
      diagram: s.diagram,
      catalog: s.catalog,
      tunePart: s.tunePart,
      time: s.time,
      revision: s.revision,
    })),
  );
  const controllers = useMemo(
    () => Object.entries(diagram.parts).filter(([, p]) => catalog.get(p.type)?.traits.tunable),
    [diagram.parts, catalog],
  );
  const part = tunePart && diagram.parts[tunePart] ? tunePart : controllers[0]?.[0];
  const [where, setWhere] = useState<"steady" | "time">("steady");
  const [wanted, setWanted] = useState<{ part: string; base: number; speed: number; margin: number } | null>(null);
  const [answer, setAnswer] = useState<TuneAnswer | null>(null);
  const [problem, setProblem] = useState<ApiError | null>(null);
  const [chosen, setChosen] = useState("PI");
  const turn = useRef(0);

  const at = where === "time" ? (time ?? 0) : null;
  const mine = wanted && wanted.part === part ? wanted : null;
  const bandwidth = mine ? mine.base * 10 ** mine.speed : null;
  const margin = mine?.margin ?? 60;

  useEffect(() => {
    if (!part) return;
    const now = ++turn.current;
    ask(
      api.POST("/api/models/{id}/tune", {
        params: { path: { id } },
        body: { part: referenceOf(level, part), at, bandwidth, phaseMargin: margin },
      }),
    ).then(
      (a) => {
        if (now !== turn.current) return;
        setAnswer(a);
        setProblem(null);
        if (bandwidth === null) setWanted({ part, base: a.bandwidth, speed: 0, margin: a.phaseMargin });
      },
      (e: ApiError) => {
        if (now !== turn.current) return;
        setAnswer(null);
        setProblem(e);
      },
    );
  }, [id, level, part, at, bandwidth, margin, revision]);

  if (!part)
    return (
      <EmptyStage label="Tune" title="No controller to tune">
        Place a PID controller on the diagram and close a loop through it; its gains are found here.
      </EmptyStage>
    );

  const candidate = answer?.candidates.find((c) => c.name === chosen);
  const shown = answer?.candidates.filter((c) => c.name === chosen || c.name === "present") ?? [];
  const frequencies = (answer?.frequencies ?? []).map(Number);
  const times = (answer?.times ?? []).map(Number);
  const f: [number, number] = [frequencies[0] ?? 0.1, frequencies[frequencies.length - 1] ?? 10];
  const lines = (pick: (c: CandidateView) => readonly (number | string)[], x: number[]): Line[] =>
    shown.map((c) => ({
      x,
      y: pick(c).map(Number),
      color: colors[c.name] ?? "#000",
      dash: c.name === "present" ? [5, 3] : [],
      width: c.name === "present" ? 1.3 : 1.8,
    }));

  const apply = () => {
    if (!candidate) return;
    const operations: Operation[] = Object.entries(candidate.parameters).map(([name, value]) => ({
      op: "add",
      path: here("parts", part, "parameters", name),
      value,
    }));
    edit(`Tune ${diagram.parts[part]?.name}`, operations);
    const then = runSettings(useBench.getState()).live
      ? "The traces show the run with limits and sampling."
      : "Run the model to see them with limits and sampling.";
    notify(`The gains of ${diagram.parts[part]?.name} are set; undo takes them back. ${then}`);
  };

  return (
    <StagePane label="Tune" className={cx("tune")}>
      <StageHead>
        <Select
          aria-label="Controller"
          value={part}
          options={controllers.map(([key, p]) => ({ value: key, label: p.name }))}
          onChange={(v) => (useBench.setState({ tunePart: v }), select([v]))}
          style={{ minWidth: 170 }}
        />
        <Radio.Group
          size="small"
          value={where}
          onChange={(e) => setWhere(e.target.value as "steady" | "time")}
          options={[
            { value: "steady", label: "about the steady state" },
            { value: "time", label: time === null ? "at the start" : `at ${format(time)} s` },
          ]}
        />
        <span className="quiet">{answer ? `loop opened at the controller's output, ${answer.operatingPoint}` : ""}</span>
      </StageHead>
      {problem && (
        <div className={cx("refusal")} role="alert">
          <h3>This loop cannot be tuned</h3>
          <p>
            {problem.message} {problem.advice}
          </p>
        </div>
      )}
      {!problem && !answer && <Spin />}
      {!problem && mine && (
        <div className={cx("wishes")}>
          <label>
            slower
            <Slider
              ariaLabelForHandle="Bandwidth"
              min={-1}
              max={1}
              step={0.02}
              value={mine.speed}
              tooltip={{ formatter: null }}
              onChange={(v) => setWanted({ ...mine, speed: v })}
            />
            faster
          </label>
          <NumberField
            label="Bandwidth in rad/s"
            unit="rad/s"
            value={bandwidth ?? 1}
            put={(v) => setWanted({ ...mine, base: v, speed: 0 })}
          />
          <label>
            lively
            <Slider
              ariaLabelForHandle="Phase margin"
              min={20}
              max={85}
              step={1}
              value={mine.margin}
              tooltip={{ formatter: null }}
              onChange={(v) => setWanted({ ...mine, margin: v })}
            />
            robust
          </label>
          <NumberField
            label="Phase margin in degrees"
            unit="°"
            value={mine.margin}
            put={(v) => v < 180 && setWanted({ ...mine, margin: v })}
          />
        </div>
      )}
      {answer && (
        <div className={cx("body")}>
          <table className={cx("candidates")} aria-label="Candidates">
            <thead>
              <tr>
                <th>Form</th>
                <th>k</th>
                <th>Ti</th>
                <th>Td</th>
                <th>bandwidth</th>
                <th>phase m.</th>
                <th>gain m.</th>
              </tr>
            </thead>
            <tbody>
              {answer.candidates.map((c) => (
                <tr
                  key={c.name}
                  className={cx({ chosen: c.name === chosen, unstable: !c.isStable })}
                  tabIndex={0}
                  aria-selected={c.name === chosen}
                  onClick={() => c.name !== "present" && setChosen(c.name)}
                  onKeyDown={(e) => e.key === "Enter" && c.name !== "present" && setChosen(c.name)}
                >
                  <td>
                    <i style={{ background: colors[c.name] }} /> {c.name === "present" ? `now: ${c.form}` : c.name}
                  </td>
                  <td className="mono">{format(c.k)}</td>
                  <td className="mono">{optional(c.ti)}</td>
                  <td className="mono">{optional(c.td)}</td>
                  <td className="mono">{optional(c.bandwidth, 3)}</td>
                  <td className="mono">{c.isStable ? `${optional(c.phaseMargin, 3)}°` : "unstable"}</td>
                  <td className="mono">{c.gainMargin ? `${format(20 * Math.log10(c.gainMargin), 3)} dB` : "∞"}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className={cx("tune-side")}>
            <p className={cx("remark")}>
              {candidate?.remark ?? (candidate?.isExact ? `${candidate.name} meets both wishes exactly.` : "")}
            </p>
            <Button type="primary" disabled={!candidate || !candidate.isStable} onClick={apply}>
              Apply these gains
            </Button>
            <p className={cx("quiet", "poles")}>
              Closed-loop poles:{" "}
              {(candidate?.poles ?? [])
                .slice(0, 6)
                .map((p) => pole(p.re, p.im))
                .filter(Boolean)
                .join(", ")}{" "}
              1/s
            </p>
          </div>
          <div className={cx("plots")}>
            <figure>
              <figcaption>Open loop, gain</figcaption>
              <Plot
                label="Gain of the open loop over frequency"
                lines={lines((c) => c.magnitude, frequencies)}
                rules={[{ from: f[0], to: f[1], value: 0, color: "#B9C2C9" }]}
                x={f}
                y={[-60, 60]}
                logX
                unit="dB"
                showX={false}
                cursor={bandwidth}
              />
            </figure>
            <figure>
              <figcaption>Open loop, phase over frequency in rad/s</figcaption>
              <Plot
                label="Phase of the open loop over frequency"
                lines={lines((c) => c.phase, frequencies)}
                rules={[{ from: f[0], to: f[1], value: -180, color: "#B3261E" }]}
                x={f}
                y={[-270, 0]}
                logX
                unit="deg"
                showX
                cursor={bandwidth}
              />
            </figure>
            <figure className={cx("tall")}>
              <figcaption>Closed loop, step of the set-point (linear)</figcaption>
              <Plot
                label="Closed-loop step response"
                lines={lines((c) => c.step, times)}
                rules={[{ from: 0, to: times[times.length - 1] ?? 1, value: 1, color: "#B9C2C9" }]}
                x={[0, times[times.length - 1] ?? 1]}
                unit=""
                xUnit="s"
                showX
                cursor={null}
              />
            </figure>
          </div>
        </div>
      )}
    </StagePane>
  );
}

const optional = (v: number | null | undefined, digits = 4) => (v === null || v === undefined ? "–" : format(v, digits));

const pole = (re: number, im: number) => (im < 0 ? "" : im === 0 ? format(re, 3) : `${format(re, 3)} ± ${format(im, 3)}j`);

function NumberField({ label, unit, value, put }: { label: string; unit: string; value: number; put: (v: number) => void }) {
  const [draft, setDraft] = useState<string | null>(null);
  const take = () => {
    const v = Number(draft);
    if (draft !== null && Number.isFinite(v) && v > 0) put(v);
    setDraft(null);
  };
  return (
    <span className={cx("number")}>
      <Input
        size="small"
        aria-label={label}
        value={draft ?? String(Number(value.toPrecision(4)))}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => e.key === "Enter" && take()}
      />{" "}
      {unit}
    </span>
  );
}
