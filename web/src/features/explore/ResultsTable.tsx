import classNames from "classnames/bind";
import { Button, Checkbox, Dropdown, Segmented } from "antd";
import { useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { misses, readerOf, spanOf, toneOf } from "../../state/studyColumns";
import { useBench } from "../../state/bench";
import { applyRow, caseOfRow, leaveOut, overlayRows, showBands, shownStudy, useStudies, type Results, type Row } from "../../state/studies";
import { format } from "../../ui/format";
import { toneColumn } from "./RunStrip";
import styles from "./explore.module.css";

const cx = classNames.bind(styles);

/** Rows that are drawn; more are found by picking and sorting. */
const DRAWN = 300;
/** Runs that are overlaid at once. */
const OVERLAID = 60;

type Which = "all" | "picked" | "missed" | "failed";

const isOf = (which: Which, row: Row, picks: ReadonlySet<number>) =>
  which === "all" || (which === "picked" ? picks.has(Number(row.row)) : which === "missed" ? misses(row) : row.isFailed);

/** The results of runs: factors, measures, and the least margin. */
export function ResultsTable() {
  const { results, picks, without, tone } = useStudies(
    useShallow((s) => ({ results: s.results, picks: s.picks, without: s.without, tone: s.tone })),
  );
  const [chosen, setWhich] = useState<Which>("all");
  const [sort, setSort] = useState<{ key: string; down: boolean }>({ key: "run", down: false });
  const which: Which = picks.size > 1 && chosen === "all" ? "picked" : chosen;
  const rows = useMemo(() => {
    if (!results) return [];
    const of = sort.key === "least" ? (r: Row) => leastMargin(results, r)?.margin ?? null : readerOf(results, sort.key);
    return results.rows
      .filter((r): r is Row => r !== undefined && isOf(which, r, picks))
      .map((row) => ({ row, value: of(row) ?? Infinity }))
      .sort((a, b) => (sort.down ? b.value - a.value : a.value - b.value))
      .map((r) => r.row);
  }, [results, which, picks, sort]);
  if (!results) return null;
  const head = (key: string, label: string, unit: string) => (
    <th scope="col" key={key} aria-sort={sort.key === key ? (sort.down ? "descending" : "ascending") : undefined}>
      <button type="button" onClick={() => setSort({ key, down: sort.key === key && !sort.down })}>
        {label} {unit && <i>{unit}</i>}
        {sort.key === key && (sort.down ? " ↓" : " ↑")}
      </button>
    </th>
  );
  const some = rows.slice(0, OVERLAID).filter((r) => !r.isFailed);
  const key = toneColumn(results, tone);
  const [read, span] = [readerOf(results, key), spanOf(some, readerOf(results, key))];
  const colorOf = (index: number) => {
    const row = results.rows[index];
    return row ? toneOf(read(row), span[0], span[1]) : "#6f93ae";
  };
  return (
    <section className={cx("results")} aria-label="Results">
      <div className={cx("results-head")}>
        <h3>Results</h3>
        <Segmented
          size="small"
          aria-label="Which runs"
          value={which}
          onChange={(v) => {
            setWhich(v as Which);
            if (v === "all") useStudies.setState({ picks: new Set() });
          }}
          options={[
            { value: "all", label: "all" },
            { value: "picked", label: `picked ${picks.size || ""}`.trim(), disabled: picks.size === 0 },
            { value: "missed", label: "missed" },
            { value: "failed", label: "failed" },
          ]}
        />
        <span className="quiet">{rows.length > DRAWN ? `the first ${DRAWN} of ${rows.length}` : `${rows.length} runs`}</span>
        <span className={cx("actions")}>
          {picks.size === 1 && (
            <Button size="small" type="link" onClick={() => void applyRow([...picks][0] as number)}>
              Take these values
            </Button>
          )}
          {picks.size === 1 && (
            <Button size="small" type="link" onClick={() => void caseOfRow([...picks][0] as number)}>
              Make a case of it
            </Button>
          )}
          <Button
            size="small"
            type="link"
            disabled={some.length === 0}
            title={rows.length > OVERLAID ? `The first ${OVERLAID} of the table` : undefined}
            onClick={() =>
              void overlayRows(
                some.map((r) => Number(r.row)),
                colorOf,
              )
            }
          >
            Overlay these runs
          </Button>
          <Button
            size="small"
            type="link"
            disabled={rows.length < 2}
            title="Where the courses of all these runs lie, in every plot sheet"
            onClick={() =>
              void showBands(
                rows.filter((r) => !r.isFailed).map((r) => Number(r.row)),
                useBench.getState().model.studies[shownStudy(useStudies.getState()) ?? ""]?.name ?? "the study",
              )
            }
          >
            Show their band
          </Button>
          <Dropdown
            trigger={["click"]}
            menu={{
              items: (["csv", "xlsx", "parquet"] as const).map((form) => ({
                key: form,
                label: (
                  <a href={`/api/studies/${results.job}/table?form=${form}`} download>
                    {{ csv: "Text with commas", xlsx: "Workbook", parquet: "Parquet" }[form]}
                  </a>
                ),
              })),
            }}
          >
            <Button size="small" type="link">
              Export
            </Button>
          </Dropdown>
        </span>
      </div>
      <div className={cx("table-host")}>
        <table>
          <thead>
            <tr>
              <td aria-hidden />
              {head("run", "run", "")}
              {results.factors.map((f) => head(`factor:${f.id}`, f.name, f.unit))}
              {results.measures.map((m) => head(`measure:${m.id}`, m.name, m.unit))}
              {results.requirements.length > 0 && head("least", "least margin", "")}
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, DRAWN).map((r) => (
              <ResultLine
                key={r.row}
                row={r}
                results={results}
                isOut={without.has(Number(r.row))}
                isPicked={which !== "picked" && picks.has(Number(r.row))}
              />
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** The requirement that has least left. */
export function leastMargin(results: Results, row: Row): { margin: number; name: string } | null {
  let least: { margin: number; name: string } | null = null;
  row.margins.forEach((m, i) => {
    if (m != null && (least === null || Number(m) < least.margin)) least = { margin: Number(m), name: results.requirements[i]?.name ?? "" };
  });
  return least;
}

function ResultLine({ row, results, isOut, isPicked }: { row: Row; results: Results; isOut: boolean; isPicked: boolean }) {
  const index = Number(row.row);
  const least = leastMargin(results, row);
  const toggle = (more: boolean) => {
    const picks = new Set(more ? useStudies.getState().picks : []);
    if (!picks.delete(index)) picks.add(index);
    useStudies.setState({ picks });
  };
  return (
    <tr
      className={cx({ picked: isPicked, out: isOut })}
      tabIndex={0}
      aria-selected={isPicked}
      onClick={(e) => toggle(e.ctrlKey || e.metaKey || e.shiftKey)}
      onKeyDown={(e) => {
        if (e.target === e.currentTarget && (e.key === "Enter" || e.key === " ")) {
          e.preventDefault();
          toggle(e.shiftKey);
        }
      }}
      onPointerEnter={() => useStudies.setState({ over: index })}
      onPointerLeave={() => useStudies.setState({ over: null })}
    >
      <td onClick={(e) => e.stopPropagation()}>
        <Checkbox aria-label={`Run ${index + 1} in the charts`} checked={!isOut} onChange={(e) => leaveOut([index], !e.target.checked)} />
      </td>
      <td className="mono">{index + 1}</td>
      {row.cells.map((text, i) => (
        <td key={i} className="mono">
          {row.numbers[i] == null ? text : format(Number(row.numbers[i]), 5)}
        </td>
      ))}
      {row.isFailed ? (
        <td colSpan={results.measures.length + 1} className={cx("problem")}>
          {row.problem}
        </td>
      ) : (
        <>
          {row.measures.map((m, i) => (
            <td key={i} className="mono" title={m == null ? (row.problem ?? "") : undefined}>
              {m == null ? "–" : format(Number(m), 5)}
            </td>
          ))}
          {results.requirements.length > 0 && (
            <td className={cx("least", { missed: misses(row) })}>
              {least && (
                <>
                  <span className="mono">{format(least.margin, 3)}</span> <i>{least.name}</i>
                </>
              )}
            </td>
          )}
        </>
      )}
    </tr>
  );
}
