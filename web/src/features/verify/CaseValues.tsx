import classNames from "classnames/bind";
import { Button } from "antd";
import { useBench } from "../../state/bench";
import { useCases } from "../../state/cases";
import { addValue, removeValue, setValue, valuesOf, type CaseValue, type ValuesOf } from "../../state/caseEdits";
import { findFactors } from "../../state/factors";
import { FindFactor } from "../../ui/FindFactor";
import { TextField } from "../../ui/TextField";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

/** What a case, or a group for all its cases, sets. */
export function CaseValues({ of, values }: { of: ValuesOf; values: Readonly<Record<string, CaseValue>> }) {
  const model = useBench((s) => s.id);
  const labels = useCases((s) => s.all?.labels);
  return (
    <>
      <ul className={cx("values")}>
        {valuesOf(values).map(([key, v]) => {
          const label = labels?.[v.target] ?? v.target;
          return (
            <li key={key}>
              <span title={label}>{label}</span>
              <TextField label={label} value={v.text} placeholder="value" commit={(text) => setValue(of, key, text)} />
              <Button size="small" type="text" aria-label={`Do not set ${label}`} onClick={() => removeValue(of, key)}>
                ×
              </Button>
            </li>
          );
        })}
      </ul>
      <FindFactor find={findFactors(model)} label="Set something more" placeholder="set…" onFound={(c) => addValue(of, c)} />
    </>
  );
}
