import classNames from "classnames/bind";
import { Button } from "antd";
import { Fragment, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Verdict } from "../../api/client";
import { useBench } from "../../state/bench";
import type { RequirementNode } from "../../state/document";
import { setTime } from "../../state/runs";
import { format } from "../../ui/format";
import { kinds } from "./RequirementForm";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

export interface Row {
  id: string;
  node: RequirementNode;
  verdict: Verdict | undefined;
}

interface Props {
  rows: readonly Row[];
  onChange: (row: Row) => void;
  onRemove: (row: Row) => void;
}

/** Requirements by their groups, a line each; the chosen one tells all of itself below its line. */
export function RequirementTable({ rows, onChange, onRemove }: Props) {
  const [chosen, setChosen] = useState<string | null>(null);
  // Those of one group stand together, in the order in which groups first come.
  const groups = [...new Set(rows.map((r) => r.node.group ?? ""))];
  if (rows.length === 0) return <p className="quiet">No requirement yet. Add one to have every run judged.</p>;
  return (
    <table className={cx("requirements")} aria-label="Requirements">
      <thead>
        <tr>
          <th scope="col">verdict</th>
          <th scope="col">requirement</th>
          <th scope="col">condition</th>
          <th scope="col">actual</th>
          <th scope="col">left</th>
          <th scope="col">decided</th>
        </tr>
      </thead>
      <tbody>
        {groups.map((group) => (
          <Fragment key={group}>
            {(group !== "" || groups.length > 1) && (
              <tr className={cx("group")}>
                <th scope="rowgroup" colSpan={6}>
                  {group || "without a group"}
                </th>
              </tr>
            )}
            {rows
              .filter((r) => (r.node.group ?? "") === group)
              .map((r) => (
                <Line
                  key={r.id}
                  row={r}
                  isChosen={chosen === r.id}
                  onChoose={() => setChosen(chosen === r.id ? null : r.id)}
                  onChange={() => onChange(r)}
                  onRemove={() => onRemove(r)}
                />
              ))}
          </Fragment>
        ))}
      </tbody>
    </table>
  );
}

function Line({
  row: r,
  isChosen,
  onChoose,
  onChange,
  onRemove,
}: {
  row: Row;
  isChosen: boolean;
  onChoose: () => void;
  onChange: () => void;
  onRemove: () => void;
}) {
  const kind = r.verdict?.kind ?? "open";
  const decides = r.verdict?.decides;
  const choose = () => {
    onChoose();
    if (decides != null) setTime(Number(decides));
  };
  const condition = useCondition(r.node);
  return (
    <>
      {/* A press on the name is one on its line. */}
      <tr className={cx("line", { chosen: isChosen })} onClick={choose}>
        <td className={cx("verdict", "result", kind)}>{kind}</td>
        <td>
          <button type="button" aria-expanded={isChosen}>
            {r.node.name}
          </button>
          {r.node.identifier && <span className={cx("identifier")}>{r.node.identifier}</span>}
        </td>
        <td className={cx("condition")} title={condition}>
          {condition}
        </td>
        <td className="mono">{number(r.verdict?.actual, r.verdict?.unit)}</td>
        <td className={cx("mono", "verdict", kind)}>{number(r.verdict?.margin, r.verdict?.unit)}</td>
        <td className="mono">{decides == null ? "–" : `${format(Number(decides))} s`}</td>
      </tr>
      {isChosen && (
        <tr className={cx("detail")}>
          <td />
          <td colSpan={5}>
            <Detail row={r} />
            <span className={cx("acts")}>
              <Button size="small" aria-label={`Change ${r.node.name}`} onClick={onChange}>
                Change
              </Button>
              <Button size="small" aria-label={`Remove ${r.node.name}`} onClick={onRemove}>
                Remove
              </Button>
            </span>
          </td>
        </tr>
      )}
    </>
  );
}

/** What a requirement asks for, in a line. */
function useCondition(node: RequirementNode): string {
  const { infos, measures } = useBench(useShallow((s) => ({ infos: s.view.signals, measures: s.model.measures })));
  if (node.rule != null) return node.rule;
  const of = node.measure
    ? (measures[node.measure]?.name ?? "a measure that is gone")
    : (Object.values(infos).find((s) => s.reference === node.signal)?.label ?? node.signal);
  const what = kinds[node.kind].label.toLowerCase().replace(" at most", "");
  return `${of}: ${what} ${node.kind === "lowerLimit" ? "≥" : "≤"} ${node.limit}`;
}

/** Where it comes from, why it is wanted, how it was decided, and each time that it applied. */
function Detail({ row: { node, verdict } }: { row: Row }) {
  const facts = [
    ["condition", node.rule ?? undefined],
    ["decided", verdict?.explanation],
    ["source", node.source ?? undefined],
    ["rationale", node.rationale ?? undefined],
    ["priority", node.priority ?? undefined],
  ].filter((f): f is [string, string] => Boolean(f[1]));
  return (
    <>
      {node.text && <p>{node.text}</p>}
      <dl>
        {facts.map(([what, told]) => (
          <Fragment key={what}>
            <dt>{what}</dt>
            <dd className={what === "condition" ? "mono" : undefined}>{told}</dd>
          </Fragment>
        ))}
      </dl>
      {(verdict?.occasions ?? []).length > 0 && <Occasions all={verdict?.occasions ?? []} />}
    </>
  );
}

/** Each time that a rule applied, with what came of it. */
function Occasions({ all }: { all: readonly Verdict[] }) {
  return (
    <table className={cx("occasions")} aria-label="Occasions">
      <tbody>
        {all.map((o, i) => (
          <tr key={i}>
            <td className="mono">{format(Number(o.at))} s</td>
            <td className={cx("verdict", o.kind)}>{o.kind}</td>
            <td className={cx("mono", "verdict", o.kind)}>{number(o.margin, o.unit)}</td>
            <td>{o.explanation}</td>
            <td>
              {o.decides != null && (
                <Button size="small" type="link" onClick={() => setTime(Number(o.decides))}>
                  at {format(Number(o.decides))} s
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const number = (v: number | null | undefined, unit: string | undefined) =>
  v === null || v === undefined ? "–" : `${format(Number(v))} ${unit ?? ""}`;
