import classNames from "classnames/bind";
import type { FindingView, PartView } from "../../api/client";
import { setCondition, setOtherwise } from "../../state/alternatives";
import { useBench } from "../../state/bench";
import { Message } from "../../ui/Message";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** On what condition a part is in the model, and what its outputs are without it. */
export function OptionPanel({ id, view, findings }: { id: string; view: PartView; findings: readonly FindingView[] }) {
  const node = useBench((s) => s.diagram.parts[id]);
  if (!node) return null;
  const condition = node.onlyWhen ?? "";
  const problem = findings.find((f) => f.item === "only when" && f.severity === "error")?.message;
  const outputs = view.ports.filter((p) => !p.isInput && !p.domain && p.kind !== "bundle");
  return (
    <>
      <div className={cx("row", "wide", { bad: problem })}>
        <label htmlFor={`${id}-only-when`}>Only when</label>
        <TextField
          id={`${id}-only-when`}
          label="Condition on which the part is in the model"
          value={condition}
          placeholder="always"
          invalid={!!problem}
          commit={(text) => setCondition(id, text)}
          onEmpty={() => setCondition(id, null)}
        />
        {problem && <Message bad>{problem}</Message>}
        {!problem && view.leftOut && <Message>It is left out now, with its wires.</Message>}
      </div>
      {condition !== "" &&
        outputs.map((p) => (
          <div key={p.name} className={cx("row", "wide")}>
            <label htmlFor={`${id}-${p.name}-otherwise`}>{p.name} when left out</label>
            <TextField
              id={`${id}-${p.name}-otherwise`}
              label={`Value of ${p.name} when left out`}
              value={node.otherwise?.[p.name] ?? ""}
              placeholder={p.kind === "boolean" ? "false" : "0"}
              commit={(text) => setOtherwise(id, p.name, text)}
              onEmpty={() => setOtherwise(id, p.name, null)}
            />
          </div>
        ))}
    </>
  );
}
