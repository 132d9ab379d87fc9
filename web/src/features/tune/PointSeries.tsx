import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { savePoints } from "../../state/points";
import { format } from "../../ui/format";
import { saveTable } from "./saveTable";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

type Series = Schemas["SeriesAnswer"];

interface Props {
  answer: Series;
  isOld: boolean;
  show: (answer: Schemas["SteadyAnswer"]) => void;
}

/** Operating points over a quantity: what was free and which states they have. */
export function PointSeries({ answer, isOld, show }: Props) {
  const [chosen, setChosen] = useState<number | null>(null);
  const first = answer.points.find((p) => p.found)?.found;
  const columns = [
    ...(first?.free.map((f) => f.parameter) ?? []),
    ...(first?.values.filter((v) => v.rate != null).map((v) => v.signal) ?? []),
  ];
  const valueOf = (found: Schemas["SteadyAnswer"] | null | undefined, name: string) => {
    const value = found?.free.find((f) => f.parameter === name)?.value ?? found?.values.find((v) => v.signal === name)?.value;
    return value === undefined ? null : Number(value);
  };
  const good = answer.points.filter((p) => p.found?.isMet);
  const label = (value: number | string) =>
    `${answer.over.split(".").at(-1)} ${format(Number(value), 4)}${answer.unit && ` ${answer.unit}`}`;
  return (
    <section aria-label="Points of the series">
      <div className={cx("point-row")}>
        <Button
          size="small"
          disabled={good.length === 0}
          onClick={() => savePoints(good.flatMap((p) => (p.found ? [{ node: p.found.node, name: label(p.value) }] : [])))}
        >
          Save all points
        </Button>
        <Button
          size="small"
          onClick={() =>
            saveTable("points.csv", [
              [answer.over, ...columns],
              ...answer.points.map((p) => [Number(p.value), ...columns.map((c) => valueOf(p.found, c) ?? NaN)]),
            ])
          }
        >
          Save CSV
        </Button>
        {isOld && <span className="quiet">The model has changed since.</span>}
      </div>
      <div className={cx("wide")}>
        <table className={cx("mode-table")} aria-label="Series of operating points">
          <thead>
            <tr>
              <th scope="col">
                {answer.over}
                {answer.unit && `, ${answer.unit}`}
              </th>
              {columns.slice(0, 6).map((c) => (
                <th key={c} scope="col">
                  {c}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {answer.points.map((p, i) => (
              <tr
                key={i}
                tabIndex={0}
                aria-selected={i === chosen}
                className={cx({ chosen: i === chosen })}
                onClick={() => p.found && (setChosen(i), show(p.found))}
                onFocus={() => p.found && (setChosen(i), show(p.found))}
              >
                <td className="mono">{format(Number(p.value), 5)}</td>
                {p.problem ? (
                  <td colSpan={Math.max(1, Math.min(6, columns.length))} className={cx("bad")}>
                    {p.problem}
                  </td>
                ) : (
                  columns.slice(0, 6).map((c) => {
                    const value = valueOf(p.found, c);
                    return (
                      <td key={c} className="mono">
                        {value === null ? "–" : format(value, 4)}
                        {p.found?.isMet === false && <i className="quiet"> not met</i>}
                      </td>
                    );
                  })
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
