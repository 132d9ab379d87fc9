import classNames from "classnames/bind";
import { Button, Select } from "antd";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { choose, useCases } from "../../state/cases";
import {
  addHeld,
  removeExpected,
  removeHeld,
  setCase,
  setExpected,
  setHeld,
  type Case,
  type Expected,
  type Held,
} from "../../state/caseEdits";
import { format } from "../../ui/format";
import { TextField } from "../../ui/TextField";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

/** What has to come out of a case: requirements, courses, measures. */
export function CaseChecks({ id, node }: { id: string; node: Case }) {
  const { requirements, measures } = useBench(useShallow((s) => ({ requirements: s.model.requirements, measures: s.model.measures })));
  const left = Object.entries(measures).filter(([key]) => !Object.values(node.measures).some((m) => m.measure === key));
  return (
    <>
      <h3>Requirements</h3>
      <Select
        size="small"
        mode="multiple"
        className={cx("wide")}
        aria-label="Requirements of the case"
        value={[...(node.requirements ?? [])]}
        placeholder="all that its run decides"
        onChange={(chosen) => setCase(id, "Change what a case checks", { requirements: chosen.length > 0 ? chosen : null })}
        options={Object.entries(requirements).map(([value, r]) => ({ value, label: r.name }))}
        showSearch={{ optionFilterProp: "label" }}
      />
      <h3>Expected courses</h3>
      {Object.keys(node.expected).length === 0 && <p className="quiet">None. A case that is made of a run has those of its signals.</p>}
      <ul className={cx("expects")}>
        {Object.entries(node.expected).map(([key, e]) => (
          <Course key={key} id={id} course={key} node={e} />
        ))}
      </ul>
      <h3>Measures</h3>
      <ul className={cx("expects")}>
        {Object.entries(node.measures).map(([key, m]) => (
          <Measure key={key} id={id} held={key} node={m} name={measures[m.measure]?.name ?? "a measure that is gone"} />
        ))}
      </ul>
      {left.length > 0 && (
        <Select
          size="small"
          className={cx("add-measure")}
          aria-label="Hold a measure"
          placeholder="hold…"
          value={null}
          onChange={(measure: string | null) => measure !== null && addHeld(id, measure)}
          options={left.map(([value, m]) => ({ value, label: m.name }))}
          popupMatchSelectWidth={false}
        />
      )}
    </>
  );
}

function Course({ id, course, node }: { id: string; course: string; node: Expected }) {
  const { label, verdict } = useCases(
    useShallow((s) => ({
      label: s.all?.labels[node.signal] ?? node.signal,
      verdict: s.all?.cases.find((c) => c.id === id)?.courses.find((c) => c.id === course),
    })),
  );
  const unit = node.unit ?? "";
  const number = (text: string, factor = 1) => {
    const value = Number(text.replace(unit, "").replace("%", "").replace(/s$/, "").trim()) / factor;
    return Number.isFinite(value) && value >= 0 ? value : null;
  };
  const put = (key: "absolute" | "relative" | "time", text: string, factor = 1) => {
    const value = number(text, factor);
    if (value !== null) setExpected(id, course, { [key]: value });
  };
  return (
    <li>
      <div className={cx("expect-head")}>
        <b title={label}>{label}</b>
        <span className={cx("verdict", verdict?.kind ?? "open")}>
          {verdict?.margin == null ? "" : `${format(Number(verdict.margin), 3)} ${unit} left`}
        </span>
        <Button size="small" type="text" aria-label={`Do not expect ${label}`} onClick={() => removeExpected(id, course)}>
          ×
        </Button>
      </div>
      <div className={cx("tolerances")}>
        <TextField
          label={`Tolerance of ${label}`}
          value={`± ${format(Number(node.absolute))} ${unit}`.trim()}
          commit={(t) => put("absolute", t.replace("±", ""))}
        />
        <TextField
          label={`Relative tolerance of ${label}`}
          value={`± ${format(100 * Number(node.relative))} %`}
          commit={(t) => put("relative", t.replace("±", ""), 100)}
        />
        <TextField
          label={`Tolerance in time of ${label}`}
          value={`± ${format(Number(node.time))} s`}
          commit={(t) => put("time", t.replace("±", ""))}
        />
      </div>
    </li>
  );
}

function Measure({ id, held, node, name }: { id: string; held: string; node: Held; name: string }) {
  const verdict = useCases((s) => s.all?.cases.find((c) => c.id === id)?.measures.find((m) => m.id === held));
  return (
    <li>
      <div className={cx("expect-head")}>
        <button type="button" onClick={() => choose({ case: id })}>
          <b>{name}</b>
        </button>
        <span className={cx("verdict", verdict?.kind ?? "open")}>
          {verdict?.value == null ? "" : `${format(Number(verdict.value))} ${verdict.unit}`}
        </span>
        <Button size="small" type="text" aria-label={`Do not hold ${name}`} onClick={() => removeHeld(id, held)}>
          ×
        </Button>
      </div>
      <div className={cx("tolerances")}>
        <TextField
          label={`${name} at least`}
          value={node.atLeast ?? ""}
          placeholder="at least"
          commit={(atLeast) => setHeld(id, held, { atLeast })}
          onEmpty={() => setHeld(id, held, { atLeast: null })}
        />
        <TextField
          label={`${name} at most`}
          value={node.atMost ?? ""}
          placeholder="at most"
          commit={(atMost) => setHeld(id, held, { atMost })}
          onEmpty={() => setHeld(id, held, { atMost: null })}
        />
      </div>
    </li>
  );
}
