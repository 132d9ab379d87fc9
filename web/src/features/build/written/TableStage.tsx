import classNames from "classnames/bind";
import { useRef, type KeyboardEvent } from "react";
import { useBench } from "../../../state/bench";
import type { Table } from "../../../state/document";
import { LevelToolbar } from "./LevelToolbar";
import { DecisionSheet } from "./DecisionSheet";
import { ScheduleSheet } from "./ScheduleSheet";
import { TableTools } from "./TableTools";
import styles from "./table.module.css";

const cx = classNames.bind(styles);

/** Goes to the cell above or below the one that is edited. */
function walk(host: HTMLElement | null, e: KeyboardEvent): void {
  const by = e.key === "ArrowUp" ? -1 : e.key === "ArrowDown" || e.key === "Enter" ? 1 : 0;
  const from = (e.target as HTMLElement).closest<HTMLElement>("[data-cell]");
  if (by === 0 || !host || !from || (e.target as HTMLElement).closest("[role=combobox], .ant-select")) return;
  const [row, column] = (from.dataset.cell ?? "").split(",").map(Number) as [number, number];
  const next = host.querySelector<HTMLElement>(`[data-cell="${row + by},${column}"] input`);
  if (!next) return;
  e.preventDefault();
  // What was typed is taken over by Enter first; leaving at once would take it a second time.
  requestAnimationFrame(() => next.focus());
}

/** A decision table or a schedule: edited in place, and lit while it runs. */
export function TableStage() {
  const table = useBench((s) => s.table as Table);
  const host = useRef<HTMLDivElement>(null);
  return (
    <div className={cx("stage")} ref={host} onKeyDown={(e) => walk(host.current, e)}>
      <LevelToolbar>
        <TableTools />
      </LevelToolbar>
      <div className={cx("scroll")}>{table.kind === "decisions" ? <DecisionSheet table={table} /> : <ScheduleSheet table={table} />}</div>
    </div>
  );
}
