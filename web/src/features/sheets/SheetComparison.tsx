import classNames from "classnames/bind";
import { Button, Checkbox } from "antd";
import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import type { Operation } from "../../state/document";
import { edit } from "../../state/model";
import styles from "./sheets.module.css";

const cx = classNames.bind(styles);

const words: Record<string, string> = {
  changed: "changed",
  added: "new",
  missing: "not in the table",
  wrong: "cannot be taken",
};

/** Rows that are shown; the rest is taken or left with them, by the buttons above. */
const MOST_SHOWN = 500;

/** What a table would change, row by row; the chosen rows are taken as one edit. */
export function SheetComparison({
  name,
  comparison,
  onDone,
}: {
  name: string;
  comparison: Schemas["SheetImportView"];
  onDone: () => void;
}) {
  const rows = useMemo(() => comparison.rows.filter((r) => r.state !== "same"), [comparison]);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(
    () => new Set(rows.filter((r) => r.state === "changed" || r.state === "added").map((r) => r.name)),
  );
  const taken = rows.filter((r) => chosen.has(r.name) && r.operations.length > 0);
  const take = () => {
    const operations = [...comparison.columns, ...taken.flatMap((r) => r.operations)] as unknown as Operation[];
    edit(`Take ${taken.length} rows into ${name}`, operations);
    onDone();
  };
  const toggle = (row: string) => {
    const now = new Set(chosen);
    if (!now.delete(row)) now.add(row);
    setChosen(now);
  };
  const same = comparison.rows.length - rows.length;
  return (
    <div className={cx("comparison")} role="region" aria-label="What the table would change">
      <div className={cx("tools")}>
        <span>
          {rows.length === 0
            ? "The table says what the sheet says."
            : `${rows.length} ${rows.length === 1 ? "row differs" : "rows differ"}`}
          {same > 0 && <span className="quiet">, {same} are the same</span>}
        </span>
        {comparison.newColumns.length > 0 && <span>New columns: {comparison.newColumns.join(", ")}</span>}
        {comparison.unknown.length > 0 && <span className="quiet">Left aside: {comparison.unknown.join(", ")}</span>}
        <span className={cx("room")} />
        <Button size="small" onClick={onDone}>
          Leave all
        </Button>
        <Button size="small" type="primary" disabled={taken.length === 0} onClick={take}>
          Take {taken.length} {taken.length === 1 ? "row" : "rows"}
        </Button>
      </div>
      <div className={cx("changes")} tabIndex={0} role="group" aria-label="Rows that differ">
        <table>
          <thead>
            <tr>
              <th scope="col">Take</th>
              <th scope="col">Name</th>
              <th scope="col">State</th>
              <th scope="col">What changes</th>
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, MOST_SHOWN).map((r, i) => (
              <tr key={`${r.name} ${i}`} className={cx(r.state)}>
                <td>
                  <Checkbox
                    aria-label={`Take ${r.name}`}
                    disabled={r.operations.length === 0}
                    checked={chosen.has(r.name) && r.operations.length > 0}
                    onChange={() => toggle(r.name)}
                  />
                </td>
                <th scope="row" className="mono">
                  {r.name || "(no name)"}
                </th>
                <td>{words[r.state]}</td>
                <td>
                  {r.problem && <span className={cx("problem")}>{r.problem} </span>}
                  {r.cells.map((c) => (
                    <span key={c.column} className={cx("change")}>
                      <span className="quiet">{c.column}</span> {c.before && <del>{c.before}</del>}{" "}
                      {c.after ? <ins>{c.after}</ins> : <i>nothing</i>}
                    </span>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {rows.length > MOST_SHOWN && <p className="quiet">… and {rows.length - MOST_SHOWN} more</p>}
      </div>
    </div>
  );
}
