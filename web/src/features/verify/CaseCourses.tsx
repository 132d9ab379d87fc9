import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { useBench } from "../../state/bench";
import { lookAt, runCases, useCases, type CaseDetail, type CaseResult } from "../../state/cases";
import { signalColor } from "../../plots/colors";
import { limitRules } from "../../plots/limitRules";
import { Plot, type Line, type Rule } from "../../plots/Plot";
import { format } from "../../ui/format";
import { tokens } from "../../ui/tokens";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

/** What one picture shows: courses of one unit with what is allowed, and why it was decided so. */
interface Shown {
  key: string;
  title: string;
  kind: "met" | "missed" | "open";
  margin: number | null;
  unit: string;
  lines: Line[];
  rules: Rule[];
  names: { label: string; color: string; dash?: boolean; band?: boolean }[];
  at: number | null;
  events: { at: number; text: string }[];
  facts: [string, string][];
}

const x = (line: { times: number[] }) => line.times;

/** The chosen requirement of a case, or its first course that went wrong: what was recorded against what is allowed. */
export function CaseCourses({ result, detail }: { result: CaseResult; detail: CaseDetail }) {
  const requirement = useCases((s) => s.requirement);
  const present = useBench((s) => s.model.cases[result.case]);
  const [of, setOf] = useState<string | null>(null);
  const all = [...result.courses.map(ofCourse), ...result.requirements.filter((r) => r.applies).map((r) => ofRequirement(r, r.verdict.id))];
  const wanted = requirement && requirement !== "checks" ? `r ${requirement}` : null;
  const shown =
    all.find((s) => s.key === (of && (!wanted || of === wanted) ? of : wanted)) ??
    all.find((s) => s.key.startsWith("c") && s.kind === "missed") ??
    all.find((s) => s.kind === "missed") ??
    all[0];
  const end = Math.max(...(shown?.lines.map((l) => Number(l.x[l.x.length - 1] ?? 0)) ?? [1]), 1e-9);
  const start = Math.min(...(shown?.lines.map((l) => Number(l.x[0] ?? 0)) ?? [0]), end);
  return (
    <section className={cx("courses")} aria-label="Why it came out so">
      <header>
        <b>{shown?.title ?? result.name}</b>
        <span className="quiet">in</span>
        <b>{present?.name ?? result.name}</b>
        {shown && (
          <span className={cx("chip", shown.kind)}>
            {shown.kind}
            {shown.margin === null ? "" : ` by ${format(Math.abs(shown.margin), 4)} ${shown.unit}`}
          </span>
        )}
        {detail.isStale && <span className={cx("chip", "stale")}>stale</span>}
        <span className={cx("grow")} />
        <Button size="small" onClick={() => void lookAt(result.case)}>
          Look at this run
        </Button>
        <Button size="small" onClick={() => void runCases({ cases: [result.case] })}>
          Run this case
        </Button>
      </header>
      {result.courses.length > 1 && !wanted && (
        <div className={cx("which")} role="group" aria-label="Which course">
          {all
            .filter((s) => s.key.startsWith("c"))
            .map((s) => (
              <button key={s.key} type="button" aria-pressed={s.key === shown?.key} className={cx(s.kind)} onClick={() => setOf(s.key)}>
                {s.title}
              </button>
            ))}
        </div>
      )}
      <div className={cx("course-body")}>
        {shown && shown.lines.length > 0 ? (
          <div className={cx("course-plot")}>
            <ul className={cx("names")}>
              {shown.names.map((n) => (
                <li key={n.label}>
                  <i style={n.band ? { background: n.color, height: 8 } : { borderTop: `2px ${n.dash ? "dashed" : "solid"} ${n.color}` }} />
                  {n.label}
                </li>
              ))}
            </ul>
            <Plot
              label={`${shown.title} in ${result.name}`}
              lines={shown.lines}
              rules={shown.rules}
              x={[start, end]}
              unit={shown.unit}
              xUnit="s"
              showX
              cursor={shown.at}
              events={shown.events}
            />
          </div>
        ) : (
          <p className={cx("nothing")}>{result.problem ?? "Nothing was recorded that shows it."}</p>
        )}
        <dl className={cx("facts")}>
          {(shown?.facts ?? []).map(([what, told]) => (
            <div key={what}>
              <dt>{what}</dt>
              <dd>{told}</dd>
            </div>
          ))}
          <div>
            <dt>made</dt>
            <dd>
              r{result.provenance.revision} · {result.provenance.method} · {format(Number(result.provenance.relativeTolerance), 1)}
            </dd>
          </div>
          {detail.lastPassed != null && result.outcome !== "passed" && (
            <div>
              <dt>passed last</dt>
              <dd>
                <LastPassed revision={Number(detail.lastPassed)} now={Number(result.provenance.revision)} />
              </dd>
            </div>
          )}
        </dl>
      </div>
    </section>
  );
}

/** Opens what has changed in the model since a case passed last. */
function LastPassed({ revision, now }: { revision: number; now: number }) {
  const model = useBench((s) => s.id);
  return (
    <Button
      size="small"
      type="link"
      onClick={() =>
        useBench.setState({
          stage: "build",
          comparing: {
            left: { label: `r${revision}, passed`, model, revision },
            right: { label: `r${now}, failed`, model, revision: now },
          },
        })
      }
    >
      r{revision}: what has changed
    </Button>
  );
}

function ofCourse(c: CaseResult["courses"][number]): Shown {
  const unit = c.unit;
  const told = (v: number) => `${format(Number(v), 5)} ${unit}`.trim();
  const lines: Line[] = [];
  if (c.lower && c.upper && c.lower.times.length > 1) {
    // Between limits of other instants nothing can be filled: both are drawn at the instants of both.
    const times = [...new Set([...c.lower.times, ...c.upper.times])].sort((a, b) => a - b);
    lines.push({
      x: times,
      y: times.map((t) => at(c.lower!, t)),
      upTo: times.map((t) => at(c.upper!, t)),
      color: tokens.met,
      opacity: 0.18,
    });
  }
  if (c.expected) lines.push({ x: x(c.expected), y: c.expected.values, color: tokens.quiet, dash: [5, 3], width: 1.2 });
  if (c.actual) lines.push({ x: x(c.actual), y: c.actual.values, color: signalColor(0), width: 1.6 });
  return {
    key: `c ${c.id}`,
    title: c.label,
    kind: c.kind,
    margin: c.margin,
    unit,
    lines,
    rules: [],
    names: [
      { label: "actual", color: signalColor(0) },
      { label: "expected", color: tokens.quiet, dash: true },
      { label: "allowed", color: "#c9dfd3", band: true },
    ],
    at: c.exit ? Number(c.exit.at) : c.marginAt,
    events: c.exit ? [{ at: Number(c.exit.at), text: `first out, ${format(Number(c.exit.at), 5)} s` }] : [],
    facts: c.exit
      ? [
          ["first out at", `${format(Number(c.exit.at), 6)} s`],
          ["actual", told(c.exit.actual)],
          ["allowed from", told(c.exit.lower)],
          ["allowed to", told(c.exit.upper)],
          ["most out at", `${format(Number(c.marginAt), 6)} s`],
          ["by", told(Math.abs(Number(c.margin)))],
        ]
      : [["told", c.explanation]],
  };
}

/** The value of a line at an instant: straight between its points. */
function at(line: { times: number[]; values: number[] }, t: number): number {
  const i = line.times.findIndex((u) => u >= t);
  if (i < 0) return line.values[line.values.length - 1] ?? NaN;
  const [a, b] = [line.times[i - 1], line.times[i]];
  const [v, w] = [line.values[i - 1], line.values[i] ?? NaN];
  return i === 0 || a === undefined || b === undefined || v === undefined || a === b ? w : v + ((w - v) * (t - a)) / (b - a);
}

function ofRequirement(r: CaseResult["requirements"][number], id: string): Shown {
  const v = r.verdict;
  const courses = r.courses ?? [];
  const unit = courses[0]?.unit ?? v.unit;
  const same = courses.filter((c) => c.unit === unit);
  const told = (value: number | null) => (value === null ? null : `${format(Number(value), 5)} ${v.unit}`.trim());
  const facts: ([string, string] | null)[] = [
    v.actual == null ? null : ["actual", told(v.actual) ?? ""],
    v.limit == null ? null : ["limit", told(v.limit) ?? ""],
    v.margin == null ? null : ["margin", told(v.margin) ?? ""],
    v.decides == null ? null : ["decided at", `${format(Number(v.decides), 6)} s`],
    ["told", v.explanation],
  ];
  return {
    key: `r ${id}`,
    title: v.name,
    kind: v.kind,
    margin: v.margin,
    unit,
    lines: same.map((c, i) => ({ x: x(c.line), y: c.line.values, color: signalColor(i), width: 1.6 })),
    rules: same.flatMap((c) => limitRules([v], c.signal, (value) => value)),
    names: same.map((c, i) => ({ label: c.label, color: signalColor(i) })),
    at: v.decides == null ? null : Number(v.decides),
    events: (v.occasions ?? []).slice(0, 12).map((o) => ({ at: Number(o.at), text: o.kind })),
    facts: facts.filter((f): f is [string, string] => f !== null),
  };
}
