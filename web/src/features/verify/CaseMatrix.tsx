import classNames from "classnames/bind";
import { Button, Segmented } from "antd";
import { Fragment, useRef, type KeyboardEvent } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { choose, runCases, stopCases, useCases, type CaseCell, type CaseRow } from "../../state/cases";
import { grouped, type Case } from "../../state/caseEdits";
import type { RequirementNode } from "../../state/document";
import { limitOf } from "./limits";
import { outcomeOf, scaleOf, short, toldCell } from "./words";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

interface Column {
  id: string;
  node: Case;
  row: CaseRow | undefined;
  /** Whether it is the first of its group. */
  begins: boolean;
}

const isFailed = (row: CaseRow | undefined) => row?.outcome === "failed" || row?.outcome === "broken" || row?.outcome === "open";

/** Every requirement in every case: what is left of its limit. */
export function CaseMatrix() {
  const { requirements, cases, groups } = useBench(
    useShallow((s) => ({ requirements: s.model.requirements, cases: s.model.cases, groups: s.model.caseGroups })),
  );
  const { all, shows, problem } = useCases(useShallow((s) => ({ all: s.all, shows: s.shows, problem: s.problem })));
  const rows = new Map((all?.cases ?? []).map((c) => [c.id, c]));
  const blocks = grouped(cases, groups)
    .map((g) => ({
      ...g,
      columns: g.cases
        .map(([id, node]) => ({ id, node, row: rows.get(id) }))
        .filter((c) => shows === "all" || (shows === "failed" ? isFailed(c.row) : c.row?.isStale !== false))
        .map((c, i): Column => ({ ...c, begins: i === 0 })),
    }))
    .filter((g) => g.columns.length > 0);
  const columns = blocks.flatMap((b) => b.columns);
  const [total, failed] = [Object.keys(cases).length, [...rows.values()].filter(isFailed).length];
  const stale = Object.keys(cases).filter((id) => rows.get(id)?.isStale !== false).length;
  // Those of one group stand together, as in the table of requirements.
  const headings = [...new Set(Object.values(requirements).map((r) => r.group ?? ""))];
  const ordered = headings.flatMap((h) => Object.entries(requirements).filter(([, r]) => (r.group ?? "") === h));
  const suite = all?.suite;
  const goes = suite?.state === "running";
  return (
    <div className={cx("matrix-pane")}>
      <div className={cx("matrix-head")}>
        <h2>
          {ordered.length} requirements × {total} cases
        </h2>
        <Segmented
          size="small"
          aria-label="Which cases are shown"
          value={shows}
          onChange={(value) => useCases.setState({ shows: value as typeof shows })}
          options={[
            { value: "all", label: "all" },
            { value: "failed", label: `failed ${failed}` },
            { value: "stale", label: `stale ${stale}` },
          ]}
        />
        <span className={cx("grow")} />
        {goes ? (
          <>
            <span className="quiet" role="status">
              {suite.done} of {suite.cases}
            </span>
            <Button size="small" onClick={() => void stopCases()}>
              Stop
            </Button>
          </>
        ) : (
          <>
            {failed > 0 && (
              <Button size="small" onClick={() => void runCases({ choice: "failed" })}>
                Run the {failed} failed
              </Button>
            )}
            {stale > 0 && stale < total && (
              <Button size="small" onClick={() => void runCases({ choice: "stale" })}>
                Run the {stale} stale
              </Button>
            )}
            <Button size="small" type="primary" disabled={total === 0} onClick={() => void runCases({ choice: "all" })}>
              {total === 1 ? "Run the case" : `Run all ${total} cases`}
            </Button>
          </>
        )}
      </div>
      {problem && (
        <p className={cx("refusal")} role="alert">
          {problem.message} {problem.advice}
        </p>
      )}
      {total === 0 ? (
        <p className={cx("nothing")}>
          No case yet. A case runs the model in one way, and says what has to come out: add one at the left, or make one of a run that you
          like with “Make a case of this run”.
        </p>
      ) : columns.length === 0 ? (
        <p className={cx("nothing")}>{shows === "failed" ? "No case has failed." : "Every result is up to date."}</p>
      ) : (
        <Grid requirements={ordered} columns={columns} blocks={blocks} running={new Set(goes ? suite.running : [])} />
      )}
    </div>
  );
}

/** What stands in the line of all that a case expects and holds beside requirements. */
const CHECKS = "checks";

function checksOf(row: CaseRow | undefined): CaseCell | undefined {
  const all = [...(row?.courses ?? []), ...(row?.measures ?? [])];
  if (!row || all.length === 0) return undefined;
  const worst = all.find((c) => c.kind === "missed") ?? all.find((c) => c.kind === "open") ?? all[0];
  return worst && { requirement: CHECKS, kind: worst.kind, margin: worst.margin, unit: worst.unit, isNarrow: false, isStale: row.isStale };
}

function Grid({
  requirements,
  columns,
  blocks,
  running,
}: {
  requirements: readonly (readonly [string, RequirementNode])[];
  columns: readonly Column[];
  blocks: readonly { id: string; group: { name: string } | null; columns: readonly Column[] }[];
  running: ReadonlySet<string>;
}) {
  const table = useRef<HTMLTableElement>(null);
  const chosen = useCases(useShallow((s) => ({ case: s.case, requirement: s.requirement })));
  const lines: readonly (readonly [string, RequirementNode | null])[] = columns.some((c) => checksOf(c.row))
    ? [...requirements, [CHECKS, null] as const]
    : requirements;
  const cellOf = (c: Column, line: string) => (line === CHECKS ? checksOf(c.row) : c.row?.cells.find((x) => x.requirement === line));
  const go = (line: number, column: number) => {
    const [l, c] = [Math.min(lines.length - 1, Math.max(0, line)), Math.min(columns.length - 1, Math.max(0, column))];
    choose({ case: columns[c]?.id ?? null, requirement: lines[l]?.[0] ?? null });
    table.current?.querySelector<HTMLElement>(`[data-cell="${l} ${c}"]`)?.focus();
  };
  const keys = (e: KeyboardEvent, line: number, column: number) => {
    const step = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[e.key];
    if (!step) return;
    e.preventDefault();
    go(line + (step[0] ?? 0), column + (step[1] ?? 0));
  };
  const isChosen = (line: string, column: string) => chosen.case === column && chosen.requirement === line;
  const hasChosen = columns.some((c) => c.id === chosen.case) && lines.some(([l]) => l === chosen.requirement);
  return (
    <div className={cx("matrix-scroll")}>
      <table className={cx("matrix")} ref={table} aria-label="Requirements by cases">
        <thead>
          <tr>
            <th className={cx("corner")}>
              <Legend />
            </th>
            {columns.map((c) => (
              <th
                key={c.id}
                scope="col"
                className={cx("case-head", { begins: c.begins, on: chosen.case === c.id, stale: c.row?.isStale !== false })}
              >
                <button type="button" title={c.node.description ?? undefined} onClick={() => choose({ case: c.id })}>
                  {c.node.name}
                </button>
              </th>
            ))}
            <th className={cx("sum-head")}>met</th>
            <th className={cx("sum-head")}>missed</th>
          </tr>
        </thead>
        <tbody>
          {lines.map(([id, node], l) => {
            const cells = columns.map((c) => cellOf(c, id));
            const name = node?.name ?? "Expected of the case";
            const scale = scaleOf(cells);
            return (
              <tr key={id}>
                <th scope="row" className={cx("line-head", { on: chosen.requirement === id && chosen.case === null })}>
                  {node ? (
                    <button type="button" onClick={() => choose({ requirement: id })}>
                      <i>{l + 1}</i>
                      <span>{node.name}</span>
                      <em title={limitOf(node)}>{scale.unit}</em>
                    </button>
                  ) : (
                    <span className={cx("of-case")}>courses and measures of the case</span>
                  )}
                </th>
                {columns.map((c, k) => {
                  const cell = cells[k];
                  const on = isChosen(id, c.id);
                  return (
                    <td key={c.id} className={cx({ begins: c.begins })}>
                      <button
                        type="button"
                        data-cell={`${l} ${k}`}
                        tabIndex={on || (!hasChosen && l === 0 && k === 0) ? 0 : -1}
                        aria-label={toldCell(name, c.node.name, cell)}
                        aria-pressed={on}
                        className={cx("cell", cell?.kind ?? "none", {
                          narrow: cell?.isNarrow,
                          stale: cell?.isStale,
                          on,
                          going: running.has(c.id),
                        })}
                        onClick={() => choose({ case: c.id, requirement: id })}
                        onKeyDown={(e) => keys(e, l, k)}
                      >
                        {cell
                          ? cell.kind === "open"
                            ? "?"
                            : cell.margin == null || id === CHECKS
                              ? cell.kind === "met"
                                ? "✓"
                                : "✕"
                              : short(Number(cell.margin) * scale.factor)
                          : "·"}
                      </button>
                    </td>
                  );
                })}
                <td className={cx("sum")}>{cells.filter((x) => x?.kind === "met").length || "–"}</td>
                <td className={cx("sum", "bad-sum")}>{cells.filter((x) => x?.kind === "missed").length || ""}</td>
              </tr>
            );
          })}
        </tbody>
        <tfoot>
          <tr>
            <th scope="row" className={cx("foot-head")}>
              outcome
            </th>
            {columns.map((c) => (
              <td key={c.id} className={cx("outcome", { begins: c.begins })} title={outcomeOf(c.row)}>
                <span
                  className={cx("dot", c.row?.outcome ?? "none", { stale: c.row?.isStale !== false })}
                  aria-label={`${c.node.name}: ${outcomeOf(c.row)}`}
                  role="img"
                />
              </td>
            ))}
            <td className={cx("sum")}>{columns.filter((c) => c.row?.outcome === "passed").length}</td>
            <td className={cx("sum", "bad-sum")}>{columns.filter((c) => isFailed(c.row)).length || ""}</td>
          </tr>
          {blocks.some((b) => b.group) && (
            <tr>
              <td />
              {blocks.map((b) => (
                <Fragment key={b.id}>
                  <td colSpan={b.columns.length} className={cx("block")}>
                    <span>{b.group?.name ?? ""}</span>
                  </td>
                </Fragment>
              ))}
              <td />
              <td />
            </tr>
          )}
        </tfoot>
      </table>
    </div>
  );
}

const Legend = () => (
  <div className={cx("legend")} aria-hidden>
    <span>
      <b className={cx("cell", "met")}>4.7</b> met, margin left
    </span>
    <span>
      <b className={cx("cell", "met", "narrow")}>.2</b> met, under 5 % of the limit
    </span>
    <span>
      <b className={cx("cell", "missed")}>−2.3</b> missed
    </span>
    <span>
      <b className={cx("cell", "met", "stale")}>4.0</b> stale: something changed
    </span>
    <span>
      <b className={cx("cell", "none")}>·</b> does not apply
    </span>
  </div>
);
