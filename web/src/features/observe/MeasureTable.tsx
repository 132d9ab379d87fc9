import classNames from "classnames/bind";
import { Button, Input, type InputRef } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { newId, pointer } from "../../state/document";
import { edit } from "../../state/model";
import { shownRuns } from "../../state/observe";
import { setTime } from "../../state/runs";
import { findSignals } from "../../state/signals";
import { format } from "../../ui/format";
import { TextField } from "../../ui/TextField";
import { completed, wordAt } from "./completion";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

type Result = Schemas["MeasureResult"];

/** Named expressions over the traces, with a value for every shown run. */
export function MeasureTable() {
  const { measures, runs, ids, revision } = useBench(
    useShallow((s) => ({
      measures: s.model.measures,
      runs: s.runs,
      ids: s.run && s.run.state !== "running" ? shownRuns(s).join(" ") : "",
      revision: s.revision,
    })),
  );
  const [values, setValues] = useState<readonly Schemas["MeasuredRun"][]>([]);
  const id = useBench((s) => s.id);
  useEffect(() => {
    if (!ids || Object.keys(measures).length === 0) return setValues([]);
    let wanted = true;
    ask(api.GET("/api/models/{id}/measures", { params: { path: { id }, query: { run: ids.split(" ") } } })).then(
      (v) => wanted && setValues(v),
      () => undefined,
    );
    return () => {
      wanted = false;
    };
  }, [id, ids, measures, revision]);
  const shown = ids.split(" ").filter(Boolean);
  return (
    <section aria-label="Measures" className={cx("measures")}>
      <table>
        <thead>
          <tr>
            <th>measure</th>
            {shown.map((r) => (
              <th key={r}>{runs.find((k) => k.id === r)?.number ?? ""}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {Object.entries(measures).map(([key, m]) => (
            <tr key={key}>
              <th>
                <TextField
                  label={`Name of the measure ${m.name}`}
                  prose
                  value={m.name}
                  commit={(text) => edit("Rename a measure", [{ op: "replace", path: pointer("measures", key, "name"), value: text }])}
                />
                <ExpressionField
                  value={m.expression}
                  commit={(text) =>
                    edit("Change a measure", [{ op: "replace", path: pointer("measures", key, "expression"), value: text }])
                  }
                />
                <Button
                  type="text"
                  size="small"
                  aria-label={`Remove the measure ${m.name}`}
                  onClick={() => edit("Remove a measure", [{ op: "remove", path: pointer("measures", key) }])}
                >
                  ×
                </Button>
              </th>
              {shown.map((r) => (
                <td key={r}>
                  <Value result={values.find((v) => v.run === r)?.values[key]} name={m.name} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {Object.keys(measures).length === 0 && <p className="quiet">A measure is a figure of a run, such as maximum(depth, from = 5 s).</p>}
      <NewMeasure />
    </section>
  );
}

function Value({ result, name }: { result: Result | undefined; name: string }) {
  if (!result) return null;
  if (result.value === null || result.value === undefined)
    return (
      <span className={cx("problem")} title={result.problem ?? ""}>
        –
      </span>
    );
  const instant = result.instant;
  const text = (
    <>
      {format(Number(result.shown))} <span className="quiet">{result.shownUnit}</span>
    </>
  );
  return instant === null || instant === undefined ? (
    <span className="mono" data-measure={name}>
      {text}
    </span>
  ) : (
    <Button
      type="text"
      size="small"
      className="mono"
      data-measure={name}
      title={`at ${format(Number(instant))} s: show it`}
      onClick={() => setTime(Number(instant))}
    >
      {text}
    </Button>
  );
}

function NewMeasure() {
  const add = (expression: string) => {
    const value = { name: nameOf(expression), expression };
    edit("Add a measure", [{ op: "add", path: pointer("measures", newId("m")), value }]);
  };
  return (
    <div className={cx("new-measure")}>
      <ExpressionField value="" commit={add} placeholder="New measure, such as maximum(depth)" />
    </div>
  );
}

/** The first line of a name until somebody gives a better one. */
const nameOf = (expression: string) => (expression.length > 40 ? expression.slice(0, 39) + "…" : expression);

let functions: Promise<Schemas["MeasureFunction"][]> | null = null;
const knownFunctions = () => (functions ??= ask(api.GET("/api/measures")));

interface Option {
  value: string;
  label: React.ReactNode;
}

/** An expression that is completed and tried while it is typed. */
function ExpressionField({ value, commit, placeholder }: { value: string; commit: (text: string) => void; placeholder?: string }) {
  const [text, setText] = useState<string | null>(null);
  const [options, setOptions] = useState<Option[]>([]);
  const [active, setActive] = useState(-1);
  const field = useRef<InputRef>(null);
  const [result, setResult] = useState<Result | null>(null);
  const run = useBench((s) => (s.run && s.run.state !== "running" ? s.run.id : null));
  useEffect(() => {
    if (text === null || text.trim() === "") return setResult(null);
    let wanted = true;
    const word = wordAt(text);
    void Promise.all([
      knownFunctions(),
      word ? findSignals({ search: word, limit: 8 }).then((f) => f.signals) : Promise.resolve([]),
      run ? ask(api.GET("/api/runs/{id}/measure", { params: { path: { id: run }, query: { expression: text } } })) : null,
    ]).then(
      ([known, signals, tried]) => {
        if (!wanted) return;
        setResult(tried);
        const named = known.filter((f) => word && f.name.startsWith(word.toLowerCase()) && f.name !== word);
        setOptions([
          ...named.map((f) => ({
            value: completed(text, f.name + "("),
            label: (
              <>
                {f.form} <span className="quiet">{f.meaning}</span>
              </>
            ),
          })),
          ...signals.map((s) => ({
            value: completed(text, s.written ?? s.path),
            label: (
              <>
                {s.label} <span className="quiet">{s.part.split(".").join(" ▸ ")}</span>
              </>
            ),
          })),
        ]);
      },
      () => undefined,
    );
    return () => {
      wanted = false;
    };
  }, [text, run]);
  const shown = text ?? value;
  const told = useMemo(() => {
    if (!result || text === null) return null;
    return result.problem ?? `${format(Number(result.shown))} ${result.shownUnit}`;
  }, [result, text]);
  const take = () => {
    if (text !== null && text.trim() !== "" && text.trim() !== value) commit(text.trim());
    setText(null);
    setOptions([]);
  };
  const choose = (o: Option) => {
    setText(o.value);
    setOptions([]);
    field.current?.focus();
  };
  return (
    <div className={cx("expression")}>
      <Input
        size="small"
        ref={field}
        role="combobox"
        aria-expanded={options.length > 0}
        aria-label={value === "" ? "New measure" : `Expression of the measure ${value}`}
        placeholder={placeholder}
        spellCheck={false}
        title={shown}
        value={shown}
        onChange={(e) => (setText(e.target.value), setActive(-1))}
        onBlur={take}
        onKeyDown={(e) => {
          const open = text !== null && options.length > 0;
          if (e.key === "ArrowDown" && open) setActive(Math.min(options.length - 1, active + 1));
          else if (e.key === "ArrowUp" && open) setActive(Math.max(-1, active - 1));
          else if (e.key === "Enter" && open && options[active]) choose(options[active]);
          else if (e.key === "Enter") take();
          else if (e.key === "Escape") {
            setText(null);
            setOptions([]);
          } else return;
          e.preventDefault();
        }}
      />
      {text !== null && options.length > 0 && (
        <ul role="listbox" aria-label="Completions" className={cx("completions")}>
          {options.map((o, i) => (
            <li
              key={o.value}
              role="option"
              aria-selected={i === active}
              className={cx({ on: i === active })}
              // The field keeps the focus, so that typing goes on.
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => choose(o)}
            >
              {o.label}
            </li>
          ))}
        </ul>
      )}
      {told && (
        <span role="status" className={cx({ problem: result?.isWrong === true }, "mono")}>
          {told}
        </span>
      )}
    </div>
  );
}
