import classNames from "classnames/bind";
import { Button, Input } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { notify } from "../../state/bench";
import { edit } from "../../state/model";
import { savePoint } from "../../state/points";
import { format } from "../../ui/format";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

type Answer = Schemas["SteadyAnswer"];

/** What was found: whether all is met, what was fixed and free, and what to do with it. */
export function PointAnswer({ answer, isOld }: { answer: Answer; isOld: boolean }) {
  const [name, setName] = useState("");
  const values = answer.free.flatMap((f) => (f.text && f.pointer ? [{ op: "add" as const, path: f.pointer, value: f.text }] : []));
  const apply = () => {
    edit("Set what the operating point needs", values);
    notify("The found values are set; undo takes them back.");
  };
  const fastest = answer.values.filter((v) => v.rate != null).sort((a, b) => Math.abs(Number(b.rate)) - Math.abs(Number(a.rate)))[0];
  return (
    <>
      <p className={cx(answer.isMet ? "good" : "warning")} role="status">
        {!answer.isMet
          ? "No state at rest has all these values; this is the nearest one found."
          : answer.node.rests
            ? "Nothing changes here, and all values are met."
            : `The state of the run at ${format(Number(answer.node.at))} s.`}
        {isOld ? " The model has changed since." : ""}
      </p>
      <table className={cx("fact-table")} aria-label="What was found">
        <tbody>
          {answer.fixed.map((f) => (
            <tr key={f.signal}>
              <th scope="row">{f.signal}</th>
              <td className="mono">
                {format(Number(f.reached), 5)} {f.unit}
                {missed(f)}
                {f.isAtBound && " (at its bound)"}
              </td>
            </tr>
          ))}
          {answer.free.map((f) => (
            <tr key={f.parameter}>
              <th scope="row">{f.parameter}</th>
              <td className="mono">
                {f.text ?? `${format(Number(f.value), 5)} ${f.unit}`}
                {f.isAtBound && " (at its bound)"}
              </td>
            </tr>
          ))}
          {answer.node.rests && fastest && (
            <tr>
              <th scope="row">largest change left</th>
              <td className="mono">
                {format(Number(fastest.rate), 2)} {fastest.unit}/s in {fastest.signal}
              </td>
            </tr>
          )}
        </tbody>
      </table>
      <form
        className={cx("point-row")}
        onSubmit={(e) => {
          e.preventDefault();
          savePoint(answer.node, name);
          setName("");
        }}
      >
        <Input
          size="small"
          aria-label="Name of the operating point"
          placeholder="name"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Button size="small" htmlType="submit">
          Save the point
        </Button>
        {values.length > 0 && (
          <Button size="small" onClick={apply}>
            Put the found values into the model
          </Button>
        )}
      </form>
    </>
  );
}

/** What a fixed signal was to be, where it is not. */
function missed(f: Answer["fixed"][number]): string {
  const [low, high, reached] = [f.low, f.high, f.reached].map((v) => (v == null ? null : Number(v)));
  const near = (bound: number) => 1e-6 * Math.max(Math.abs(bound), 1e-12);
  if (low != null && (reached as number) < low - near(low)) return ` of ${format(low, 5)}`;
  if (high != null && (reached as number) > high + near(high)) return ` of ${format(high, 5)}`;
  return "";
}
