import classNames from "classnames/bind";
import { Button, Segmented, Select } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Schemas } from "../../api/client";
import { setStage, useBench } from "../../state/bench";
import { linearAt, type Answer } from "../../state/linear";
import { addResponseSheet } from "../../state/plotSheets";
import { useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { findSignals } from "../../state/signals";
import { SignalsSelect } from "../../ui/SignalsSelect";
import { Chart } from "./Chart";
import { FeedbackView } from "./FeedbackView";
import { Plane } from "./Plane";
import { saveFile, saveTable } from "./saveTable";
import { SystemView } from "./SystemView";
import { useAnswer } from "../../state/useAnswer";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

const numbers = (v: readonly (number | string)[]) => v.map(Number);

/** Colours of the same system at other points. */
const others = ["#D55E00", "#009E73", "#CC79A7", "#56B4E9", "#E69F00", "#6B7F92"];
const OWN = "#0072B2";

type Shown = "curves" | "system" | "sampled" | "feedback";

/** The linear system between signals: its response, poles and zeros, its step, at one operating point or several; its matrices; and what
 * sampling makes of it. */
export function LinearView() {
  const { id, revision } = useBench(useShallow((s) => ({ id: s.id, revision: s.view.resultsRevision })));
  const points = useBench((s) => s.model.operatingPoints);
  const where = useTune(useShallow(whereOf));
  const { loops, part } = useTune(useShallow((s) => ({ loops: s.loops, part: s.part })));
  const path = loops.find((l) => l.part === part)?.path;
  const [own, setOwn] = useState<{ from?: string[]; to?: string[]; open?: string[] }>({});
  const [also, setAlso] = useState<string[]>([]);
  const [hertz, setHertz] = useState(false);
  const [shown, setShown] = useState<Shown>("curves");
  const from = own.from ?? (path ? [`${path}.u`] : []);
  const to = own.to ?? (path ? [`${path}.y`] : []);
  const open = own.open ?? from;
  const more = also.filter((p) => p in points && p !== where.point);
  const [first, last] = [from[0], to[0]];
  const key = JSON.stringify([id, revision, where, first, last, open, more]);
  const { answer, problem, busy } = useAnswer<{ main: Answer; more: { name: string; answer: Answer }[] }>(
    first && last && shown === "curves"
      ? async () => {
          const [main, ...rest] = await linearAt(
            { from: first, to: last, open },
            where,
            more.map((point) => ({ at: null, point })),
          );
          return { main, more: rest.map((answer, i) => ({ name: points[more[i] ?? ""]?.name ?? "", answer })) };
        }
      : null,
    key,
  );
  const factor = hertz ? 1 / (2 * Math.PI) : 1;
  const unit = hertz ? "Hz" : "rad/s";
  const pick = (label: string, hint: string, value: string[], put: (v: string[]) => void) => (
    <SignalsSelect find={findSignals} label={label} placeholder={hint} value={value} onChange={put} className={cx("signal")} />
  );
  const save = () =>
    answer &&
    saveTable("response.csv", [
      ["point", "frequency", "re", "im"],
      ...[{ name: answer.main.point, answer: answer.main }, ...answer.more].flatMap((a) =>
        numbers(a.answer.frequencies).map((f, i) => [a.name, f, Number(a.answer.re[i]), Number(a.answer.im[i])]),
      ),
    ]);
  const onSheet = () => {
    if (!first || !last) return;
    const kept = [...(where.point ? [where.point] : []), ...more];
    addResponseSheet({ from: first, to: last, open, points: kept, hertz, ...(where.at === null ? {} : { at: where.at }) });
    setStage("observe");
  };
  return (
    <div className={cx("view")} aria-busy={busy}>
      <div className={cx("view-bar")}>
        <label>from {pick("Signals that go in", "signal", from, (v) => setOwn({ ...own, from: v }))}</label>
        <label>to {pick("Signals that come out", "signal", to, (v) => setOwn({ ...own, to: v }))}</label>
        <label>loops cut at {pick("Signals at which loops are cut", "nowhere", open, (v) => setOwn({ ...own, open: v }))}</label>
        {shown === "curves" && Object.keys(points).length > 0 && (
          <label>
            also at{" "}
            <Select
              size="small"
              mode="multiple"
              aria-label="Other operating points"
              placeholder="saved points"
              maxTagCount={1}
              className={cx("signal")}
              value={more}
              options={Object.entries(points)
                .filter(([p]) => p !== where.point)
                .map(([value, p]) => ({ value, label: p.name }))}
              onChange={setAlso}
              popupMatchSelectWidth={false}
            />
          </label>
        )}
        <Segmented
          size="small"
          value={shown}
          options={[
            { value: "curves", label: "Curves" },
            { value: "system", label: "System" },
            { value: "sampled", label: "Sampled" },
            { value: "feedback", label: "State feedback" },
          ]}
          onChange={(v) => setShown(v as Shown)}
        />
        <Segmented size="small" value={unit} options={["rad/s", "Hz"]} onChange={(v) => setHertz(v === "Hz")} />
        {shown === "curves" && (
          <>
            <Button size="small" disabled={!answer} onClick={save}>
              Save CSV
            </Button>
            <Button size="small" disabled={!answer} onClick={() => answer && saveFile("linear.json", JSON.stringify(answer, null, 2))}>
              Save JSON
            </Button>
            <Button size="small" disabled={!answer} title="Sheets of plots follow the model" onClick={onSheet}>
              Keep as a sheet
            </Button>
          </>
        )}
      </div>
      {problem && shown === "curves" && (
        <p className={cx("refusal")} role="alert">
          {problem.message} {problem.advice}
        </p>
      )}
      {shown === "curves" && answer && <Curves main={answer.main} more={answer.more} factor={factor} unit={unit} />}
      {shown === "feedback" && first && last && <FeedbackView from={first} to={last} open={open} factor={factor} unit={unit} />}
      {(shown === "system" || shown === "sampled") && from.length > 0 && to.length > 0 && (
        <SystemView from={from} to={to} open={open} isSampled={shown === "sampled"} factor={factor} unit={unit} />
      )}
    </div>
  );
}

interface CurvesProps {
  main: Answer;
  more: readonly { name: string; answer: Answer }[];
  factor: number;
  unit: string;
}

function Curves({ main, more, factor, unit }: CurvesProps) {
  const [plane, setPlane] = useState<"nyquist" | "poles" | "nichols">("nyquist");
  const all = [
    { name: more.length > 0 ? main.point : "gain", answer: main, color: OWN },
    ...more.map((m, i) => ({ ...m, color: others[i % others.length] as string })),
  ];
  const curves = (x: (a: Answer) => readonly (number | string)[], y: (a: Answer) => readonly (number | string)[], scale = 1) =>
    [...all]
      .reverse()
      .map((a) => ({
        name: a.name,
        x: numbers(x(a.answer)).map((v) => v * scale),
        y: numbers(y(a.answer)),
        color: a.color,
        width: a.color === OWN ? 1.8 : 1.3,
      }))
      .reverse();
  return (
    <div className={cx("quarters")}>
      <Chart
        id="gain"
        title="Gain, dB"
        curves={curves(
          (a) => a.frequencies,
          (a) => a.magnitude,
          factor,
        )}
        xLabel={`frequency, ${unit}`}
        logX
        rule={0}
        least={20}
        points={main.gainCrossings.map((c) => ({
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
            { value: "nichols", label: "Gain over phase" },
            { value: "poles", label: "Poles and zeros" },
          ]}
          onChange={(v) => setPlane(v as typeof plane)}
        />
        {plane === "nyquist" && <Nyquist answer={main} more={all.slice(1)} />}
        {plane === "nichols" && (
          <Chart
            id="nichols"
            title="Gain, dB, over phase"
            curves={curves(
              (a) => a.phase,
              (a) => a.magnitude,
            )}
            xLabel="phase, °"
            rule={0}
            least={20}
            points={[{ x: -180, y: 0, text: "−1" }]}
          />
        )}
        {plane === "poles" && <Roots answer={main} more={all.slice(1)} />}
      </div>
      <Chart
        id="phase"
        title="Phase, °"
        curves={curves(
          (a) => a.frequencies,
          (a) => a.phase,
          factor,
        )}
        xLabel={`frequency, ${unit}`}
        logX
        rule={-180}
        least={60}
        points={main.phaseCrossings.slice(0, 4).map((c) => ({ x: Number(c.frequency) * factor, y: -180 }))}
      />
      <div className={cx("facts")}>
        <Chart
          id="step"
          title="Step of the input"
          curves={curves(
            (a) => a.times,
            (a) => a.step,
          )}
          xLabel="time, s"
          rule={0}
        />
        {more.length > 0 ? <PointFacts all={all} factor={factor} unit={unit} /> : <Facts answer={main} factor={factor} unit={unit} />}
      </div>
    </div>
  );
}

/** The figures of several points side by side. */
function PointFacts({
  all,
  factor,
  unit,
}: {
  all: readonly { name: string; answer: Answer; color: string }[];
  factor: number;
  unit: string;
}) {
  const cell = (v: number | string | null | undefined, digits = 3) => (v === null || v === undefined ? "–" : format(Number(v), digits));
  const worst = (c: Answer["gainCrossings"]) => [...c].sort((a, b) => Math.abs(Number(a.margin)) - Math.abs(Number(b.margin)))[0];
  return (
    <table className={cx("mode-table")} aria-label="Figures at the points">
      <thead>
        <tr>
          <th scope="col">point</th>
          <th scope="col">crossing, {unit}</th>
          <th scope="col">margin, °</th>
          <th scope="col">Ms</th>
        </tr>
      </thead>
      <tbody>
        {all.map(({ name, answer, color }) => {
          const margin = worst(answer.gainCrossings);
          return (
            <tr key={name}>
              <td>
                <i className={cx("swatch")} style={{ background: color }} /> {name}
              </td>
              <td className="mono">{margin ? format(Number(margin.frequency) * factor, 3) : "–"}</td>
              <td className="mono">{cell(margin?.margin)}</td>
              <td className="mono">{cell(answer.sensitivity)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** What the loop's curve does about −1, with circles of equal peak. */
function Nyquist({ answer, more }: { answer: Answer; more: readonly { name: string; answer: Answer; color: string }[] }) {
  const points = numbers(answer.re).map((re, i) => [re, Number(answer.im[i])] as const);
  // What runs off to infinity at an integrator says nothing about −1.
  const near = points.filter(([a, b]) => Math.hypot(a + 1, b) < 2);
  const peak = answer.sensitivity === null || answer.sensitivity === undefined ? null : Number(answer.sensitivity);
  return (
    <Plane
      id="nyquist"
      title="Response in the complex plane"
      curves={[
        ...more.map((m) => ({ name: m.name, x: numbers(m.answer.re), y: numbers(m.answer.im), color: m.color, width: 1.2 })),
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

function Roots({ answer, more }: { answer: Answer; more: readonly { answer: Answer }[] }) {
  const pair = (r: Schemas["RootView"]) => [Number(r.re), Number(r.im)] as const;
  const all = [answer, ...more.map((m) => m.answer)];
  const [poles, zeros] = [all.flatMap((a) => a.poles.map(pair)), all.flatMap((a) => a.zeros.map(pair))];
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
