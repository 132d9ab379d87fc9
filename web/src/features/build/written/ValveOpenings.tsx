import classNames from "classnames/bind";
import { Input } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { select, useBench } from "../../../state/bench";
import type { Valve, ValvePath } from "../../../state/document";
import { inOrder } from "../../../state/tables";
import { setPath } from "../../../state/valves";
import { told } from "../../../ui/format";
import { Message } from "../../../ui/Message";
import { TextField } from "../../../ui/TextField";
import styles from "./valve.module.css";

const cx = classNames.bind(styles);

const [WIDTH, HEIGHT] = [230, 40];

/** How far each path is open over the stroke, and what flows through it when it is. */
export function ValveOpenings({ valve }: { valve: Valve }) {
  const { view, selection, stroke, values, signals } = useBench(
    useShallow((s) => ({
      view: s.view.valve,
      selection: s.selection,
      stroke: s.time === null ? undefined : s.values.get("stroke"),
      values: s.values,
      signals: s.view.signals,
    })),
  );
  const [pasting, setPasting] = useState<string | null>(null);
  const rows = inOrder(valve.positions).flatMap(([position, node]) =>
    inOrder(node.paths).map(([path, p]) => ({ path, node: p, position: valve.positions[position]?.name ?? "" })),
  );
  if (rows.length === 0) return <p className={cx("hint", "quiet")}>Drag from one port of a position to another: a path joins them.</p>;
  const field = (path: string, node: ValvePath, member: "flow" | "drop" | "overlap" | "cracking" | "diameter", label: string) => (
    <TextField label={label} value={node[member]} commit={(text) => setPath(path, `Change ${label.toLowerCase()}`, { [member]: text })} />
  );
  return (
    <table className={cx("openings")}>
      <thead>
        <tr>
          <th scope="col">Opening over stroke</th>
          <th scope="col" aria-label="Curve" />
          <th scope="col">nominal flow</th>
          <th scope="col">at a drop</th>
          <th scope="col">overlap</th>
          <th scope="col">opens at, Ø</th>
          <th scope="col">flow now</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ path, node, position }) => {
          const seen = view?.paths[path];
          const flow = seen?.flow ?? "";
          const label = `${seen?.way ?? ""} in ${position}`;
          return (
            <tr key={path} className={cx({ chosen: selection.has(path) })} onClick={() => !selection.has(path) && select([path])}>
              <th scope="row">
                <strong>{seen?.way}</strong>
                <small>
                  {position}
                  {node.kind === "check" ? ", check valve" : node.kind === "orifice" ? ", orifice" : ""}
                </small>
                <button
                  type="button"
                  className={cx("link")}
                  aria-expanded={pasting === path}
                  onClick={() => setPasting(pasting === path ? null : path)}
                >
                  {node.curve ? "pasted curve" : "linear"}
                </button>
                {pasting === path && <Pasted path={path} node={node} label={label} />}
                {seen?.problem && <Message bad>{seen.problem}</Message>}
              </th>
              <td>
                <Opening x={(seen?.opening?.x ?? []).map(Number)} y={(seen?.opening?.y ?? []).map(Number)} stroke={stroke} label={label} />
              </td>
              <td>{field(path, node, "flow", `Nominal flow of ${label}`)}</td>
              <td>{field(path, node, "drop", `Nominal drop of ${label}`)}</td>
              <td>{node.curve ? <span className="quiet">curve</span> : field(path, node, "overlap", `Overlap of ${label}`)}</td>
              <td>
                {node.kind === "check" && field(path, node, "cracking", `Opening pressure of ${label}`)}
                {node.kind === "orifice" && field(path, node, "diameter", `Diameter of the orifice of ${label}`)}
              </td>
              <td className="mono">
                {stroke === undefined ? "" : told(values.get(flow), signals[flow])}{" "}
                <small>{stroke === undefined ? "" : signals[flow]?.unit}</small>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** A curve as it is pasted: pairs of numbers, the share of the way to the position and the opening. */
function Pasted({ path, node, label }: { path: string; node: ValvePath; label: string }) {
  const [text, setText] = useState(node.curve ?? "");
  return (
    <Input.TextArea
      aria-label={`Curve of ${label}`}
      autoFocus
      rows={4}
      value={text}
      placeholder={"way opening, a pair a line:\n0 0\n0.3 0.05\n1 1"}
      onChange={(e) => setText(e.target.value)}
      onBlur={() =>
        text.trim() !== (node.curve ?? "") && setPath(path, "Paste a curve", { curve: text.trim() || null } as Partial<ValvePath>)
      }
      onKeyDown={(e) => e.stopPropagation()}
    />
  );
}

function Opening({ x, y, stroke, label }: { x: number[]; y: number[]; stroke: number | undefined; label: string }) {
  if (x.length < 2) return null;
  const [from, to] = [x[0] as number, x[x.length - 1] as number];
  const at = (z: number) => 4 + ((z - from) / (to - from || 1)) * (WIDTH - 8);
  const up = (v: number) => HEIGHT - 4 - v * (HEIGHT - 8);
  const now = stroke === undefined ? null : Math.min(to, Math.max(from, stroke));
  const next = now === null ? -1 : x.findIndex((v) => v >= now);
  const [i, j] = [Math.max(0, next - 1), Math.max(0, next)];
  const share = now === null || x[i] === x[j] ? 0 : (now - (x[i] as number)) / ((x[j] as number) - (x[i] as number));
  const open = now === null ? 0 : (y[i] as number) + share * ((y[j] as number) - (y[i] as number));
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={`Opening of ${label} over the stroke`} className={cx("opening")}>
      <path className={cx("grid")} d={`M4 ${up(0)}H${WIDTH - 4}M4 ${up(1)}H${WIDTH - 4}M${at(0)} ${up(0)}V${up(1)}`} />
      <path className={cx("line")} d={x.map((v, k) => `${k ? "L" : "M"}${at(v)} ${up(y[k] as number)}`).join("")} />
      {now !== null && <circle cx={at(now)} cy={up(open)} r={3.5} className={cx("now")} />}
    </svg>
  );
}
