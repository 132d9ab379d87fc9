import classNames from "classnames/bind";
import { Button, Checkbox, InputNumber, Select, Switch } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { notify, useBench } from "../../state/bench";
import {
  addRows,
  factorsOf,
  pasteRows,
  removeRow,
  setCell,
  setDesign,
  setRows,
  setSearch,
  setStudy,
  type Study,
} from "../../state/studyEdits";
import { TextField } from "../../ui/TextField";
import { useDesign } from "./useDesign";
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
      {study.search ? <SearchForm id={id} study={study} /> : <DesignForm id={id} study={study} hasDrawn={factors.some((f) => f.isDrawn)} />}
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
              const count = pasteRows(id, e.clipboardData.getData("text"));
              if (count > 0) notify(`${count} rows were added. Undo takes them back.`);
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

function DesignForm({ id, study, hasDrawn }: { id: string; study: Study; hasDrawn: boolean }) {
  const d = study.design;
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

function SearchForm({ id, study }: { id: string; study: Study }) {
  const { requirements, measures } = useBench(useShallow((s) => ({ requirements: s.model.requirements, measures: s.model.measures })));
  const s = study.search;
  if (!s) return null;
  const isWorst = s.worst != null;
  return (
    <div className={cx("design-form", "search-form")} role="group" aria-label="Search">
      {isWorst ? (
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
      <Count label="runs at most" value={Number(s.runs)} commit={(runs) => setSearch(id, { runs })} />
      <Count label="seed" value={Number(s.seed)} least={0} commit={(seed) => setSearch(id, { seed })} />
      <p className="quiet">
        {factorsOf(study).length === 0
          ? "Add what may change above, each with bounds such as 1:10 or ± 20 %."
          : "Factors are searched between their bounds; lists are tried as they are."}
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
          (text) => notify(`${pasteRows(id, text)} rows were added. Undo takes them back.`),
          () => notify("Click into the table and press Ctrl+V: a line a row, in the order of the factors."),
        )
      }
    >
      Paste rows
    </Button>
  );
}
