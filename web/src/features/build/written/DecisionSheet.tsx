import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import { select, useBench } from "../../../state/bench";
import type { DecisionTable } from "../../../state/document";
import { setName } from "../../../state/names";
import { addRule, inOrder, setCondition, setNote, setThen, setWhen } from "../../../state/tables";
import { TextField } from "../../../ui/TextField";
import { CoverBar } from "./CoverBar";
import { useItemCoverage } from "./useItemCoverage";
import { useFlags } from "./useFlags";
import styles from "./table.module.css";

const cx = classNames.bind(styles);

/** Rules in rows: what must hold at the left, what follows at the right; the first one that holds applies. */
export function DecisionSheet({ table }: { table: DecisionTable }) {
  const { selection, values, lit, words } = useBench(
    useShallow((s) => ({ selection: s.selection, values: s.values, lit: s.view.table?.lit, words: s.view.table?.words })),
  );
  const flags = useFlags();
  const covered = useItemCoverage();
  const columns = inOrder(table.conditions);
  const outputs = inOrder(table.names).filter(([, n]) => n.kind === "output");
  const rules = inOrder(table.rules);
  const applies = (id: string) => values.get(lit?.[id] ?? "") === 1;
  const known = rules.some(([id]) => values.has(lit?.[id] ?? ""));
  const none = known && !rules.some(([id]) => applies(id));
  return (
    <table className={cx("sheet", "decisions")} aria-label={`Decision table ${table.name}`}>
      <thead>
        <tr>
          <th scope="col" className={cx("number")} rowSpan={2}>
            Rule
          </th>
          <th scope="colgroup" colSpan={Math.max(1, columns.length)}>
            When
          </th>
          <th scope="colgroup" colSpan={Math.max(1, outputs.length)} className={cx("then")}>
            Then
          </th>
          <th scope="col" rowSpan={2} className={cx("why")}>
            Why
          </th>
        </tr>
        <tr>
          {columns.map(([id, c], i) => (
            <th key={id} scope="col" className={cx({ chosen: selection.has(id) })} data-cell={`0,${i}`} onFocus={() => select([id])}>
              <TextField label={`Condition ${i + 1}`} value={c.text} commit={(text) => setCondition(id, text)} />
            </th>
          ))}
          {columns.length === 0 && <th className="quiet">no conditions</th>}
          {outputs.map(([id, n], i) => (
            <th key={id} scope="col" className={cx("output", { then: i === 0, chosen: selection.has(id) })}>
              <button type="button" onClick={() => select([id])} title={n.description}>
                {n.name}
                {n.unit && <small> {n.unit}</small>}
              </button>
            </th>
          ))}
          {outputs.length === 0 && <th className={cx("then", "quiet")}>no outputs</th>}
        </tr>
      </thead>
      <tbody>
        {rules.map(([id, rule], r) => (
          <tr
            key={id}
            className={cx({ lit: applies(id), chosen: selection.has(id) })}
            onFocus={() => !selection.has(id) && select([id])}
            aria-label={`Rule ${r + 1}${applies(id) ? ", applies" : ""}`}
          >
            <th scope="row" className={cx("number", flags[id])}>
              <button
                type="button"
                onClick={() => select([id])}
                aria-label={`Choose rule ${r + 1}`}
                title={flags[id] && "See the findings"}
              >
                {r + 1}
              </button>
              <CoverBar found={covered.get(id)} />
            </th>
            {columns.map(([column, c], i) => (
              <td key={column} data-cell={`${r + 1},${i}`}>
                <TextField
                  label={`Rule ${r + 1}, ${c.text}`}
                  placeholder="any"
                  value={rule.when[column] ?? ""}
                  commit={(text) => setWhen(id, column, text)}
                  onEmpty={() => setWhen(id, column, "")}
                />
              </td>
            ))}
            {columns.length === 0 && <td />}
            {outputs.map(([output, n], i) => (
              <td key={output} className={cx({ then: i === 0 })} data-cell={`${r + 1},${columns.length + i}`}>
                <TextField
                  label={`Rule ${r + 1}, ${n.name}`}
                  placeholder={n.start ?? "otherwise"}
                  value={rule.then[output] ?? ""}
                  commit={(text) => setThen(id, output, text)}
                  onEmpty={() => setThen(id, output, "")}
                />
              </td>
            ))}
            {outputs.length === 0 && <td className={cx("then")} />}
            <td className={cx("why")} data-cell={`${r + 1},${columns.length + outputs.length}`}>
              <TextField
                label={`Rule ${r + 1}, why`}
                prose
                value={rule.note ?? ""}
                commit={(text) => setNote(id, text)}
                onEmpty={() => setNote(id, "")}
              />
            </td>
          </tr>
        ))}
        <tr className={cx("otherwise", { lit: none })} aria-label={`Otherwise${none ? ", applies" : ""}`}>
          <th scope="row" colSpan={1 + Math.max(1, columns.length)}>
            otherwise
          </th>
          {outputs.map(([output, n], i) => (
            <td key={output} className={cx({ then: i === 0 })} data-cell={`${rules.length + 1},${columns.length + i}`}>
              <TextField
                label={`Otherwise, ${n.name}`}
                placeholder={words?.[n.name]?.[0] ?? (n.type === "Boolean" ? "false" : "0")}
                value={n.start ?? ""}
                commit={(start) => setName(output, "Change a value", { start })}
                onEmpty={() => setName(output, "Change a value", { start: undefined })}
              />
            </td>
          ))}
          {outputs.length === 0 && <td className={cx("then")} />}
          <td className={cx("why")} />
        </tr>
      </tbody>
      <caption>
        The first rule that holds applies. A cell takes a value, <code>&gt; 2 m</code>, <code>1 .. 3</code>, <code>ebb, flood</code>,{" "}
        <code>yes</code> or <code>no</code>; empty is any.{" "}
        {rules.length === 0 && (
          <button type="button" onClick={() => void addRule(null)}>
            Add the first rule
          </button>
        )}
      </caption>
    </table>
  );
}
