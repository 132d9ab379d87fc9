import classNames from "classnames/bind";
import { Button, Checkbox, InputNumber, Select, Switch } from "antd";
import { useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Schemas } from "../../api/client";
import { notify, useBench } from "../../state/bench";
import {
  addRows,
  factorsOf,
  removeRow,
  setCell,
  setDesign,
  setRows,
  setSearch,
  setStudy,
  type Study,
  type StudyDesign,
} from "../../state/studyEdits";
import { readRows } from "../../state/studies";
import { base64 } from "../../ui/base64";
import { TextField } from "../../ui/TextField";
import { useDesign } from "./useDesign";
import { percent } from "./words";
import styles from "./explore.module.css";

const cx = classNames.bind(styles);

const designs = [
  { value: "grid", label: "all combinations" },
  { value: "one", label: "one factor at a time" },
  { value: "random", label: "drawn at random" },
  { value: "latin", label: "Latin hypercube" },
  { value: "sobol", label: "sequence of Sobol" },
  { value: "shares", label: "for shares of variance" },
  { value: "own", label: "rows by hand only" },
];

const methods = [
  { value: "auto", label: "chosen by the problem" },
  { value: "simplex", label: "simplex" },
  { value: "covariance", label: "adapted covariance" },
  { value: "differential", label: "differential evolution" },
  { value: "newton", label: "quasi-Newton" },
  { value: "cutsets", label: "sets of faults" },
];

/** Rows of one page. */
const PAGE = 200;

/** In which combinations factors are gone through, and every row that comes of it, on or off. */
export function DesignTable({ study: id }: { study: string }) {
  const study = useBench((s) => s.model.studies[id]);
  const [page, setPage] = useState(0);
  const { answer } = useDesign(id, PAGE, page * PAGE);
  if (!study) return null;
  const factors = answer?.factors ?? [];
  const rows = answer?.rows ?? [];
  const firstOwn = answer ? Number(answer.total) - study.rows.length : 0;
  const pages = Math.ceil(Number(answer?.total ?? 0) / PAGE);
  return (
    <div className={cx("design")}>
      {study.search ? <SearchForm id={id} study={study} /> : <DesignForm id={id} study={study} answer={answer} />}
      {!study.search && (
        <>
          <div className={cx("design-bar")}>
            <Button
              size="small"
              disabled={factors.length === 0}
              onClick={() => addRows(id, [{ values: Object.fromEntries(factors.map((f) => [f.id, f.present ?? ""])) }])}
            >
              Add a row
            </Button>
            <PasteRows id={id} />
            <FileRows id={id} />
            <span className="quiet">{answer && !answer.problem ? `${answer.runs} of ${answer.total} rows are run` : ""}</span>
            {pages > 1 && (
              <span className={cx("pages")}>
                <Button size="small" disabled={page === 0} onClick={() => setPage(page - 1)} aria-label="Rows before">
                  ‹
                </Button>
                rows {page * PAGE + 1} to {Math.min(Number(answer?.total), (page + 1) * PAGE)}
                <Button size="small" disabled={page >= pages - 1} onClick={() => setPage(page + 1)} aria-label="Rows behind">
                  ›
                </Button>
              </span>
            )}
          </div>
          <div
            className={cx("table-host")}
            tabIndex={0}
            role="group"
            aria-label="Rows; a table from a spreadsheet is pasted here"
            onPaste={(e) => {
              if ((e.target as Element).tagName === "INPUT") return;
              const text = e.clipboardData.getData("text");
              if (text.trim()) void readRows(id, { text });
            }}
          >
            <table aria-label="Design table">
              <thead>
                <tr>
                  <th scope="col">on</th>
                  <th scope="col">row</th>
                  {factors.map((f) => (
                    <th scope="col" key={f.id}>
                      {f.label}
                    </th>
                  ))}
                  <td aria-hidden />
                </tr>
              </thead>
              <tbody>
                {rows.map((r, at) => {
                  const own = r.isOwn ? page * PAGE + at - firstOwn : -1;
                  return (
                    <tr key={r.number} className={cx({ out: !r.isOn })}>
                      <td>
                        <Checkbox
                          aria-label={`Row ${r.number} is run`}
                          checked={r.isOn}
                          onChange={(e) => setRows(id, [Number(r.number)], e.target.checked)}
                        />
                      </td>
                      <td className="mono">{r.number}</td>
                      {r.cells.map((text, i) => (
                        <td key={factors[i]?.id ?? i} className="mono">
                          {own >= 0 && factors[i] ? (
                            <TextField
                              label={`${factors[i].label} in row ${r.number}`}
                              value={text}
                              commit={(v) => setCell(id, own, factors[i]?.id ?? "", v)}
                            />
                          ) : (
                            text
                          )}
                        </td>
                      ))}
                      <td>
                        {own >= 0 && (
                          <Button type="text" size="small" aria-label={`Remove row ${r.number}`} onClick={() => removeRow(id, own)}>
                            ×
                          </Button>
                        )}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
        </>
      )}
    </div>
  );
}

const MB = 1 << 20;

/** What runs keep beside their figures, with what that takes. */
function Keeps({ id, study, answer }: { id: string; study: Study; answer: Schemas["StudyDesignView"] | null }) {
  const [bytes, rows] = [Number(answer?.keptBytes ?? 0), Number(answer?.keptRows ?? 0)];
  const part = answer && rows < Number(answer.runs) && rows > 0 ? `, of the first ${rows} runs` : "";
  return (
    <label title="Courses are kept at 401 instants; bands over many runs are drawn from them">
      courses kept
      <Select
        size="small"
        aria-label="Courses kept"
        value={study.keeps}
        options={[
          { value: "sheets", label: "of the plot sheets" },
          { value: "all", label: "of all signals" },
          { value: "none", label: "none" },
        ]}
        onChange={(keeps: string) => setStudy(id, "Say what runs keep", { keeps })}
        popupMatchSelectWidth={false}
      />
      {rows > 0 && `${answer?.keptSignals} signals, ${bytes < MB ? "below 1" : Math.round(bytes / MB)} MB${part}`}
    </label>
  );
}

function DesignForm({ id, study, answer }: { id: string; study: Study; answer: Schemas["StudyDesignView"] | null }) {
  const d = study.design;
  const hasDrawn = (answer?.factors ?? []).some((f) => f.isDrawn);
  const tolerances = useBench((s) => Object.keys(s.model.tolerances).length);
  const counts = ["random", "latin", "sobol", "shares"].includes(d.kind);
  return (
    <div className={cx("design-form")} role="group" aria-label="Design">
      <label>
        combinations
        <Select
          size="small"
          aria-label="Design"
          value={d.kind}
          options={designs}
          onChange={(kind: string) => setDesign(id, { kind })}
          popupMatchSelectWidth={false}
        />
      </label>
      {counts && <Count label={d.kind === "shares" ? "draws" : "rows"} value={Number(d.runs)} commit={(runs) => setDesign(id, { runs })} />}
      {hasDrawn && !counts && <Count label="draws of each" value={Number(d.draws)} commit={(draws) => setDesign(id, { draws })} />}
      {(counts || hasDrawn) && <Count label="seed" value={Number(d.seed)} least={0} commit={(seed) => setDesign(id, { seed })} />}
      {(tolerances > 0 || d.hasTolerances) && (
        <label>
          <Switch
            size="small"
            aria-label="Draw the model's tolerances"
            checked={d.hasTolerances}
            onChange={(hasTolerances) => setDesign(id, { hasTolerances })}
          />
          the model’s tolerances
        </label>
      )}
      {(hasDrawn || counts) && <Ending id={id} design={d} wanted={study.wantedYield ?? null} />}
      <Keeps id={id} study={study} answer={answer} />
      <label className={cx("wide")}>
        only where
        <TextField
          label="Condition between factors"
          value={study.conditions[0] ?? ""}
          placeholder="such as mass < 2*drag"
          commit={(text) => setStudy(id, "Change a condition", { conditions: [text] })}
          onEmpty={() => setStudy(id, "Remove a condition", { conditions: [] })}
        />
      </label>
    </div>
  );
}

/** When a study ends: with its last row, or as soon as enough is known of the share that meets all requirements. */
function Ending({ id, design, wanted }: { id: string; design: StudyDesign; wanted: number | null }) {
  return (
    <label>
      ends
      <Select
        size="small"
        aria-label="When it ends"
        value={design.ending}
        options={[
          { value: "all", label: "with the last row" },
          {
            value: "decided",
            label: wanted === null ? "when the wanted share is decided" : `when ${percent(wanted)} is decided`,
            disabled: wanted === null,
          },
          { value: "known", label: "when the share is known" },
        ]}
        onChange={(ending: string) => setDesign(id, { ending })}
        popupMatchSelectWidth={false}
      />
      {design.ending === "known" && (
        <>
          to ±
          <InputNumber
            size="small"
            aria-label="Share known to within, in percent"
            min={0.01}
            max={49}
            value={100 * Number(design.within)}
            onBlur={(e) => {
              const next = Number(e.target.value) / 100;
              if (next > 0 && next < 0.5 && next !== Number(design.within)) setDesign(id, { within: next });
            }}
            onPressEnter={(e) => e.currentTarget.blur()}
          />
          %
        </>
      )}
    </label>
  );
}

function SearchForm({ id, study }: { id: string; study: Study }) {
  const { requirements, measures, tolerances } = useBench(
    useShallow((s) => ({
      requirements: s.model.requirements,
      measures: s.model.measures,
      tolerances: Object.keys(s.model.tolerances).length,
    })),
  );
  const s = study.search;
  if (!s) return null;
  const isWorst = s.worst != null;
  return (
    <div className={cx("design-form", "search-form")} role="group" aria-label="Search">
      {s.reach != null ? (
        <label className={cx("wide")}>
          a run that comes to
          <TextField label="What a run shall come to" value={s.reach} commit={(reach) => setSearch(id, { reach })} />
        </label>
      ) : isWorst ? (
        <label>
          least margin of
          <Select
            size="small"
            aria-label="Requirement whose margin is made least"
            value={s.worst ?? ""}
            options={[
              { value: "", label: "any requirement" },
              ...Object.entries(requirements).map(([value, r]) => ({ value, label: r.name })),
            ]}
            onChange={(worst: string) => setSearch(id, { worst })}
            popupMatchSelectWidth={false}
          />
        </label>
      ) : (
        <label className={cx("wide")}>
          make least
          <TextField
            label="What is made least"
            value={s.goal}
            placeholder="such as maximum(depth) + 0.1*settling(depth)"
            commit={(goal) => setSearch(id, { goal })}
          />
          <Select
            size="small"
            aria-label="Take a measure"
            placeholder="a measure"
            value={null}
            options={Object.values(measures).map((m) => ({ value: m.expression, label: m.name }))}
            onChange={(goal: string | null) => goal && setSearch(id, { goal })}
            popupMatchSelectWidth={false}
          />
        </label>
      )}
      {!isWorst && (
        <label>
          <Switch
            size="small"
            aria-label="Requirements are kept"
            checked={s.keepsRequirements}
            onChange={(keepsRequirements) => setSearch(id, { keepsRequirements })}
          />
          keep all requirements
        </label>
      )}
      <label>
        method
        <Select
          size="small"
          aria-label="Method"
          value={s.method}
          options={methods}
          onChange={(method: string) => setSearch(id, { method })}
          popupMatchSelectWidth={false}
        />
      </label>
      {s.worst != null && (
        <label>
          <Switch
            size="small"
            aria-label={s.reach == null ? "It ends with the first miss" : "It ends with the first such run"}
            checked={s.endsWhenMissed}
            onChange={(endsWhenMissed) => setSearch(id, { endsWhenMissed })}
          />
          {s.reach == null ? "the first miss is enough" : "the first such run is enough"}
        </label>
      )}
      <label>
        each attempt
        <Select
          size="small"
          aria-label="What each attempt stands"
          value={s.under}
          options={[
            { value: "nominal", label: "is one run" },
            { value: "corners", label: "stands all ends of what is drawn" },
            { value: "draws", label: "stands draws of it" },
          ]}
          onChange={(under: string) => setSearch(id, { under })}
          popupMatchSelectWidth={false}
        />
      </label>
      {s.under === "draws" && <Count label="draws" value={Number(study.design.draws)} commit={(draws) => setDesign(id, { draws })} />}
      {(tolerances > 0 || study.design.hasTolerances) && (
        <label>
          <Switch
            size="small"
            aria-label="The model's tolerances are among the factors"
            checked={study.design.hasTolerances}
            onChange={(hasTolerances) => setDesign(id, { hasTolerances })}
          />
          the model’s tolerances
        </label>
      )}
      {s.method === "cutsets" && (
        <Count label="faults at once" value={Number(s.order)} commit={(order) => setSearch(id, { order: Math.min(5, order) })} />
      )}
      <Count label="runs at most" value={Number(s.runs)} commit={(runs) => setSearch(id, { runs })} />
      <Count label="seed" value={Number(s.seed)} least={0} commit={(seed) => setSearch(id, { seed })} />
      <p className="quiet">
        {factorsOf(study).length === 0
          ? "Add what may change above, each with bounds such as 1:10 or ± 20 %."
          : s.under === "nominal"
            ? "Factors are searched between their bounds; lists are tried as they are."
            : "Factors with bounds are searched. Drawn ones, as ± 10 % or the model’s tolerances, are what each attempt has to stand: the worst of its runs counts."}
      </p>
    </div>
  );
}

function Count({ label, value, least = 1, commit }: { label: string; value: number; least?: number; commit: (v: number) => void }) {
  return (
    <label>
      {label}
      <InputNumber
        size="small"
        aria-label={label}
        min={least}
        max={1_000_000}
        precision={0}
        value={value}
        onBlur={(e) => {
          const next = Number(e.target.value);
          if (Number.isInteger(next) && next >= least && next !== value) commit(next);
        }}
        onPressEnter={(e) => e.currentTarget.blur()}
      />
    </label>
  );
}

/** Takes rows from the clipboard where the browser lets it, and says how it is done where not. */
function PasteRows({ id }: { id: string }) {
  return (
    <Button
      size="small"
      onClick={() =>
        void navigator.clipboard.readText().then(
          (text) => readRows(id, { text }),
          () => notify("Click into the table and press Ctrl+V: a line a row, in the order of the factors, or under their names."),
        )
      }
    >
      Paste rows
    </Button>
  );
}

/** Takes rows from a spreadsheet's file. */
function FileRows({ id }: { id: string }) {
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button size="small" title="A line a row, in the order of the factors, or under their names" onClick={() => file.current?.click()}>
        Rows from a file
      </Button>
      <input
        ref={file}
        type="file"
        className="unseen"
        aria-label="File with rows"
        tabIndex={-1}
        accept=".xlsx,.csv,.txt,.tsv"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          if (chosen) void base64(chosen).then((packed) => readRows(id, { file: packed }));
          e.target.value = "";
        }}
      />
    </>
  );
}
