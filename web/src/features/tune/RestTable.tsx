import classNames from "classnames/bind";
import { Input } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { format } from "../../ui/format";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

const SHOWN = 400;

/** All signals at an operating point. */
export function RestTable({ answer }: { answer: Schemas["SteadyAnswer"] }) {
  const [filter, setFilter] = useState("");
  const found = answer.values.filter((v) => v.signal.toLowerCase().includes(filter.toLowerCase()));
  return (
    <>
      <Input
        size="small"
        aria-label="Filter the signals at rest"
        placeholder="Filter"
        value={filter}
        onChange={(e) => setFilter(e.target.value)}
        allowClear
      />
      <table className={cx("mode-table")} aria-label="Signals at rest">
        <thead>
          <tr>
            <th scope="col">signal</th>
            <th scope="col">value</th>
            <th scope="col">unit</th>
          </tr>
        </thead>
        <tbody>
          {found.slice(0, SHOWN).map((v) => (
            <tr key={v.signal}>
              <td>
                {v.signal}
                {v.rate != null && <i className="quiet"> state</i>}
              </td>
              <td className="mono">{format(Number(v.value), 5)}</td>
              <td>{v.unit}</td>
            </tr>
          ))}
          {found.length > SHOWN && (
            <tr>
              <td colSpan={3} className="quiet">
                {found.length - SHOWN} more; filter to see them.
              </td>
            </tr>
          )}
        </tbody>
      </table>
    </>
  );
}
