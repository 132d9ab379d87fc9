import classNames from "classnames/bind";
import { Input } from "antd";
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { pointer } from "../../state/document";
import { edit, restructure } from "../../state/model";
import { removeColumn, renameColumn, type Sheet } from "../../state/sheets";
import { columnsOf, copyText, moved, newRow, parseCells, pasteOperations, rowsFor, setCell, textOf, type Cell } from "./grid";
import styles from "./sheets.module.css";

const cx = classNames.bind(styles);

const ROW = 26;

interface Props {
  id: string;
  sheet: Sheet;
  search: string;
  uses: Record<string, Schemas["SheetUse"][]>;
  /** Told the name of the row that the cursor is in. */
  onRow: (name: string | null) => void;
}

/** The rows of a sheet, of which only those in view are drawn. Cells are gone through by arrow keys, typed into, copied and pasted. */
export function SheetGrid({ id, sheet, search, uses, onRow }: Props) {
  const columns = useMemo(() => columnsOf(sheet), [sheet]);
  const rows = useMemo(() => rowsFor(sheet, search), [sheet, search]);
  const wrong = useBench((s) => s.view.findings);
  const bad = useMemo(() => new Set(wrong.filter((f) => !f.part && f.severity !== "information" && f.item).map((f) => f.item)), [wrong]);
  const [at, setAt] = useState<Cell>({ row: 0, column: 0 });
  const [anchor, setAnchor] = useState<Cell>({ row: 0, column: 0 });
  const [draft, setDraft] = useState<string | null>(null);
  const [top, setTop] = useState(0);
  const [height, setHeight] = useState(400);
  const box = useRef<HTMLDivElement>(null);
  // The row behind the last one is where new ones are typed.
  const count = rows.length + 1;
  const here = { row: Math.min(at.row, count - 1), column: Math.min(at.column, columns.length - 1) };
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setHeight(element.clientHeight));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  const current = rows[here.row];
  useEffect(() => onRow(current === undefined ? null : (sheet.rows[current]?.name ?? null)), [current, sheet, onRow]);

  const go = (to: Cell, extend: boolean) => {
    setAt(to);
    if (!extend) setAnchor(to);
    const element = box.current;
    if (!element) return;
    const y = to.row * ROW;
    if (y < element.scrollTop) element.scrollTop = y;
    else if (y + 2 * ROW > element.scrollTop + element.clientHeight) element.scrollTop = y + 2 * ROW - element.clientHeight;
  };

  const commit = (cell: Cell, text: string) => {
    setDraft(null);
    const column = columns[cell.column];
    const row = rows[cell.row];
    if (!column) return;
    if (row === undefined) {
      if (column.field === "name" && text.trim() !== "") edit(`Add ${text.trim()}`, [newRow(id, text.trim())]);
      return;
    }
    const before = textOf(sheet.rows[row], column);
    if (column.field === "name") {
      if (text.trim() !== "" && text.trim() !== before) void restructure({ kind: "renameSheetRow", sheet: id, row, to: text.trim() });
      return;
    }
    edit(`Set ${sheet.rows[row]?.name ?? ""}`, setCell(id, row, column, text.trim(), before));
  };

  const corners = { a: anchor, b: here };
  const inside = (row: number, column: number) =>
    row >= Math.min(corners.a.row, corners.b.row) &&
    row <= Math.max(corners.a.row, corners.b.row) &&
    column >= Math.min(corners.a.column, corners.b.column) &&
    column <= Math.max(corners.a.column, corners.b.column);

  const clear = () => {
    const operations = rows.flatMap((row, r) =>
      columns.flatMap((c, k) => (inside(r, k) ? setCell(id, row, c, "", textOf(sheet.rows[row], c)) : [])),
    );
    edit("Empty cells", operations);
  };
  const removeRows = () => {
    const [first, last] = [Math.min(anchor.row, here.row), Math.max(anchor.row, here.row)];
    const gone = rows.slice(first, last + 1);
    edit(
      `Remove ${gone.length === 1 ? (sheet.rows[gone[0] as string]?.name ?? "row") : `${gone.length} rows`}`,
      gone.map((row) => ({ op: "remove", path: pointer("sheets", id, "rows", row) })),
    );
  };

  const key = (e: React.KeyboardEvent) => {
    if (draft !== null || e.target !== e.currentTarget) return;
    const to = moved(here, e.key, count, columns.length, Math.max(1, Math.floor(height / ROW) - 2));
    if (to) go(to, e.shiftKey);
    else if (e.key === "Enter" || e.key === "F2") setDraft(textOf(sheet.rows[current ?? ""], columns[here.column] as never));
    else if ((e.key === "Delete" || e.key === "Backspace") && (e.ctrlKey || e.metaKey)) removeRows();
    else if (e.key === "Delete" || e.key === "Backspace") clear();
    else if (e.key.length === 1 && !e.ctrlKey && !e.metaKey && !e.altKey) setDraft(e.key);
    else return;
    e.preventDefault();
  };

  const first = Math.max(0, Math.floor(top / ROW) - 8);
  const last = Math.min(count, Math.ceil((top + height) / ROW) + 8);
  const grid = columns
    .map((c) => (c.key === "name" ? "170px" : c.key.startsWith("v-") ? "120px" : c.key === "description" ? "minmax(220px, 1fr)" : "96px"))
    .join(" ");
  return (
    <div
      ref={box}
      className={cx("grid")}
      role="grid"
      aria-label={`Rows of ${sheet.name}`}
      aria-rowcount={count + 1}
      aria-colcount={columns.length}
      aria-activedescendant={`cell-${here.row}-${here.column}`}
      tabIndex={0}
      style={{ ["--columns" as string]: grid }}
      onScroll={(e) => setTop(e.currentTarget.scrollTop)}
      onKeyDown={key}
      onCopy={(e) => {
        if (draft !== null) return;
        e.clipboardData.setData("text/plain", copyText(sheet, rows, anchor, here));
        e.preventDefault();
      }}
      onPaste={(e) => {
        if (draft !== null) return;
        e.preventDefault();
        const operations = pasteOperations(
          id,
          sheet,
          rows,
          { row: Math.min(anchor.row, here.row), column: Math.min(anchor.column, here.column) },
          parseCells(e.clipboardData.getData("text")),
        );
        edit("Paste cells", operations);
      }}
    >
      <div className={cx("head")} role="row" aria-rowindex={1}>
        {columns.map((c, k) => (
          <ColumnHead
            key={c.key}
            head={c.head}
            index={k}
            value={typeof c.field === "string" ? null : c.field.value}
            id={id}
            sheet={sheet}
          />
        ))}
      </div>
      <div className={cx("rows")} style={{ height: count * ROW }} role="rowgroup">
        {Array.from({ length: last - first }, (_, i) => first + i).map((r) => {
          const row = rows[r];
          const node = row === undefined ? undefined : sheet.rows[row];
          return (
            <div
              key={row ?? "new"}
              role="row"
              aria-rowindex={r + 2}
              className={cx("row", { bad: node && bad.has(node.name), fresh: !node })}
              style={{ top: r * ROW }}
            >
              {columns.map((c, k) => {
                const isHere = r === here.row && k === here.column;
                const text = textOf(node, c);
                return (
                  <div
                    key={c.key}
                    id={`cell-${r}-${k}`}
                    role="gridcell"
                    aria-colindex={k + 1}
                    aria-selected={inside(r, k)}
                    className={cx("cell", {
                      here: isHere,
                      chosen: inside(r, k),
                      value: typeof c.field !== "string",
                      name: c.field === "name",
                    })}
                    title={text}
                    onPointerDown={(e) => {
                      if (isHere && draft !== null) return;
                      go({ row: r, column: k }, e.shiftKey);
                    }}
                    onDoubleClick={() => setDraft(text)}
                  >
                    {isHere && draft !== null ? (
                      <CellField
                        label={`${c.head} of ${node?.name ?? "a new row"}`}
                        text={draft}
                        onText={setDraft}
                        onDone={(t, down) => {
                          commit(here, t);
                          box.current?.focus();
                          // There is a row more where this was the empty one.
                          if (down) go({ row: here.row + 1, column: here.column }, false);
                        }}
                        onCancel={() => {
                          setDraft(null);
                          box.current?.focus();
                        }}
                      />
                    ) : node ? (
                      <>
                        {text}
                        {c.field === "name" && (uses[node.name] ?? []).length > 0 && <small>{(uses[node.name] ?? []).length}</small>}
                      </>
                    ) : c.field === "name" ? (
                      <span className="quiet">new name</span>
                    ) : null}
                  </div>
                );
              })}
            </div>
          );
        })}
      </div>
    </div>
  );
}

function CellField({
  label,
  text,
  onText,
  onDone,
  onCancel,
}: {
  label: string;
  text: string;
  onText: (text: string) => void;
  onDone: (text: string, down: boolean) => void;
  onCancel: () => void;
}) {
  // Leaving the field ends it too; what has ended does not end again.
  const ended = useRef(false);
  const end = (then: () => void) => {
    if (ended.current) return;
    ended.current = true;
    then();
  };
  return (
    <Input
      size="small"
      autoFocus
      variant="borderless"
      aria-label={label}
      value={text}
      spellCheck={false}
      onChange={(e) => onText(e.target.value)}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") end(() => onDone(text, true));
        else if (e.key === "Tab") {
          e.preventDefault();
          end(() => onDone(text, false));
        } else if (e.key === "Escape") end(onCancel);
      }}
      onBlur={() => end(() => onDone(text, false))}
    />
  );
}

/** The head of a column; that of a column of values can be renamed and removed. */
function ColumnHead({ head, index, value, id, sheet }: { head: string; index: number; value: string | null; id: string; sheet: Sheet }) {
  const [draft, setDraft] = useState<string | null>(null);
  const isActive = value !== null && sheet.active === JSON.stringify(head);
  const done = () => {
    if (value !== null && draft !== null && draft.trim() !== "" && draft.trim() !== head) renameColumn(id, value, draft.trim());
    setDraft(null);
  };
  return (
    <div role="columnheader" aria-colindex={index + 1} className={cx("cell", "column-head", { active: isActive })}>
      {draft !== null ? (
        <Input
          size="small"
          autoFocus
          variant="borderless"
          aria-label={`Name of the column ${head}`}
          value={draft}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={done}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter") done();
            if (e.key === "Escape") setDraft(null);
          }}
        />
      ) : value === null ? (
        head
      ) : (
        <>
          <button type="button" title={`${head}: rename`} onClick={() => setDraft(head)}>
            {head}
          </button>
          {Object.keys(sheet.columns).length > 1 && (
            <button type="button" className={cx("drop")} aria-label={`Remove the column ${head}`} onClick={() => removeColumn(id, value)}>
              ×
            </button>
          )}
        </>
      )}
    </div>
  );
}
