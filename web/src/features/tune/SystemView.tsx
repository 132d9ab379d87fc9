import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { Chart } from "./Chart";
import { NumberField } from "./NumberField";
import { saveFile } from "./saveTable";
import { useAnswer } from "../../state/useAnswer";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

type Answer = Schemas["SystemAnswer"];
const numbers = (v: readonly (number | string)[]) => v.map(Number);
const colors: Record<string, string> = { continuous: "#17324D", zoh: "#0072B2", tustin: "#D55E00", matched: "#009E73" };
const named: Record<string, string> = { zoh: "held (zoh)", tustin: "Tustin", matched: "matched" };

interface Props {
  from: readonly string[];
  to: readonly string[];
  open: readonly string[];
  isSampled: boolean;
  factor: number;
  unit: string;
}

/** The system as matrices and transfer function with its singular values, or what sampling makes of it. */
export function SystemView({ from, to, open, isSampled, factor, unit }: Props) {
  const { id, revision } = useBench(useShallow((s) => ({ id: s.id, revision: s.view.resultsRevision })));
  const where = useTune(useShallow(whereOf));
  const [period, setPeriod] = useState<number | null>(null);
  const [exactAt, setExactAt] = useState<number | null>(null);
  const loop = useTune((s) => s.loops.find((l) => l.part === s.part));
  const fastest = Number(loop?.figures?.bandwidth ?? 1);
  // Thirty samples in a turn of the loop's bandwidth show what sampling does without hiding it.
  const seen = period ?? Number(loop?.period ?? Number((0.2 / fastest).toPrecision(1)));
  const asked = {
    from: [...from],
    to: [...to],
    open: [...open],
    ...where,
    period: isSampled ? seen : null,
    exactAt: isSampled ? exactAt : null,
  };
  const { answer, problem, busy } = useAnswer<Answer>(
    () => ask(api.POST("/api/models/{id}/linear/system", { params: { path: { id } }, body: asked })),
    JSON.stringify([id, revision, asked]),
  );
  return (
    <div className={cx("view")} aria-busy={busy}>
      <div className={cx("view-bar")}>
        {isSampled && (
          <>
            <label>
              sampled every <NumberField label="Sampling period, s" value={seen} fits={(v) => v > 0} put={setPeriod} /> s
            </label>
            <label>
              Tustin exact at{" "}
              <NumberField
                label="Frequency at which Tustin is exact, rad/s"
                value={exactAt ?? 0}
                fits={(v) => v >= 0}
                put={(v) => setExactAt(v > 0 ? v : null)}
              />{" "}
              rad/s
            </label>
          </>
        )}
        <Button size="small" disabled={!answer} onClick={() => answer && saveFile("system.json", JSON.stringify(answer, null, 2))}>
          Save JSON
        </Button>
        {answer && answer.delays.length > 0 && (
          <span className="quiet">
            Dead times of {answer.delays.map((d) => format(Number(d), 3)).join(", ")} s come on top of the matrices.
          </span>
        )}
      </div>
      {problem && (
        <p className={cx("refusal")} role="alert">
          {problem.message} {problem.advice}
        </p>
      )}
      {answer &&
        (isSampled ? <Conversions answer={answer} factor={factor} unit={unit} /> : <System answer={answer} factor={factor} unit={unit} />)}
    </div>
  );
}

function System({ answer, factor, unit }: { answer: Answer; factor: number; unit: string }) {
  const w = numbers(answer.frequencies).map((v) => v * factor);
  const root = (r: Schemas["RootView"]) =>
    Number(r.im) === 0
      ? format(Number(r.re), 4)
      : `${format(Number(r.re), 4)} ${Number(r.im) < 0 ? "−" : "+"} ${format(Math.abs(Number(r.im)), 4)} j`;
  return (
    <div className={cx("halves", "filled")}>
      <div className={cx("scrolled")}>
        {answer.transfer && <Transfer transfer={answer.transfer} letter="s" />}
        <Matrix name="A" rows={answer.matrices.a} across={answer.states} down={answer.states} />
        <Matrix name="B" rows={answer.matrices.b} across={answer.from} down={answer.states} />
        <Matrix name="C" rows={answer.matrices.c} across={answer.states} down={answer.to} />
        <Matrix name="D" rows={answer.matrices.d} across={answer.from} down={answer.to} />
      </div>
      <div className={cx("scrolled")}>
        <div className={cx("tall")}>
          <Chart
            id="singular"
            title={answer.singularValues.length > 1 ? "Singular values, dB" : "Gain, dB"}
            curves={answer.singularValues.map((y, i) => ({
              name: i === 0 ? "largest" : `number ${i + 1}`,
              x: w,
              y: numbers(y),
              color: i === 0 ? "#0072B2" : "#9DB8CB",
              width: 1.6,
            }))}
            xLabel={`frequency, ${unit}`}
            logX
            rule={0}
            least={20}
          />
        </div>
        <h3 className={cx("section")}>Poles</h3>
        <p className="mono">{answer.poles.map(root).join("   ")}</p>
        {answer.zeros && (
          <>
            <h3 className={cx("section")}>{answer.from.length > 1 ? "Transmission zeros" : "Zeros"}</h3>
            <p className="mono">{answer.zeros.length > 0 ? answer.zeros.map(root).join("   ") : "none"}</p>
          </>
        )}
      </div>
    </div>
  );
}

const MOST = 14;

function Matrix({
  name,
  rows,
  across,
  down,
}: {
  name: string;
  rows: Answer["matrices"]["a"];
  across: readonly string[];
  down: readonly string[];
}) {
  if (rows.length === 0 || across.length === 0) return null;
  return (
    <div className={cx("wide")}>
      <table className={cx("mode-table", "matrix")} aria-label={`Matrix ${name}`}>
        <thead>
          <tr>
            <th scope="col">{name}</th>
            {across.slice(0, MOST).map((a) => (
              <th key={a} scope="col" title={a}>
                {a.split(".").slice(-2).join(".")}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, MOST).map((row, i) => (
            <tr key={down[i]}>
              <th scope="row">{down[i]}</th>
              {row.slice(0, MOST).map((v, j) => (
                <td key={across[j]} className="mono">
                  {format(Number(v), 4)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {Math.max(rows.length, across.length) > MOST && <p className="quiet">The first {MOST} are shown; the file has all.</p>}
    </div>
  );
}

/** A fraction of two polynomials, highest power first. */
function Transfer({ transfer, letter }: { transfer: NonNullable<Answer["transfer"]>; letter: "s" | "z" }) {
  return (
    <p className={cx("fraction")} aria-label="Transfer function">
      <span>{polynomial(numbers(transfer.numerator), letter)}</span>
      <span>{polynomial(numbers(transfer.denominator), letter)}</span>
    </p>
  );
}

function polynomial(coefficients: readonly number[], letter: string): string {
  const order = coefficients.length - 1;
  const terms = coefficients.flatMap((c, i) => {
    const power = order - i;
    if (c === 0 && order > 0) return [];
    const raised =
      power === 0 ? "" : power === 1 ? ` ${letter}` : ` ${letter}${[...String(power)].map((d) => "⁰¹²³⁴⁵⁶⁷⁸⁹"[Number(d)]).join("")}`;
    const size = Math.abs(c) === 1 && power > 0 ? "" : format(Math.abs(c), 5);
    return [`${c < 0 ? "− " : i > 0 ? "+ " : ""}${size}${raised}`.trim()];
  });
  return terms.length > 0 ? terms.join(" ").replace(/^\+ /, "") : "0";
}

function Conversions({ answer, factor, unit }: { answer: Answer; factor: number; unit: string }) {
  const all = [...(answer.continuous ? [answer.continuous] : []), ...answer.conversions.filter((c) => !c.problem)];
  const w = numbers(answer.sampledFrequencies).map((v) => v * factor);
  const curves = (of: (c: Schemas["ConversionView"]) => readonly (number | string)[]) =>
    all.map((c) => ({
      name: named[c.hold] ?? c.hold,
      x: w,
      y: numbers(of(c)),
      color: colors[c.hold] as string,
      width: c.hold === "continuous" ? 1.2 : 1.6,
    }));
  if (!answer.continuous) return <p className={cx("view-note")}>One signal in and one out can be compared as sampled.</p>;
  return (
    <div className={cx("halves", "filled")}>
      <div className={cx("stacked")}>
        <Chart id="held-gain" title="Gain, dB" curves={curves((c) => c.magnitude)} xLabel={`frequency, ${unit}`} logX rule={0} least={20} />
        <Chart id="held-phase" title="Phase, °" curves={curves((c) => c.phase)} xLabel={`frequency, ${unit}`} logX rule={-180} least={60} />
      </div>
      <div className={cx("scrolled")}>
        {answer.conversions.map((c) => (
          <section key={c.hold} aria-label={named[c.hold] ?? c.hold}>
            <h3 className={cx("section")}>
              <i className={cx("swatch")} style={{ background: colors[c.hold] }} /> {named[c.hold]}
            </h3>
            {c.problem ? <p className="quiet">{c.problem}</p> : c.transfer && <Transfer transfer={c.transfer} letter="z" />}
            {!c.problem && (
              <p className="mono">poles {c.poles.map((p) => format(Math.hypot(Number(p.re), Number(p.im)), 4)).join(", ")} from zero</p>
            )}
          </section>
        ))}
      </div>
    </div>
  );
}
