import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { useAnswer } from "../../state/useAnswer";
import { edit, here } from "../../state/model";
import { useBench } from "../../state/bench";
import { Message } from "../../ui/Message";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

type Figure = Schemas["SheetFigure"];

/** Figures of a maker's data sheet, and the parameters that follow from them. */
export function DataSheetPanel({ id, kind }: { id: string; kind: string }) {
  const [open, setOpen] = useState(false);
  return (
    <section aria-label="Data sheet">
      <Button size="small" aria-expanded={open} onClick={() => setOpen(!open)}>
        From a data sheet
      </Button>
      {open && <Figures id={id} kind={kind} onTaken={() => setOpen(false)} />}
    </section>
  );
}

function Figures({ id, kind, onTaken }: { id: string; kind: string; onTaken: () => void }) {
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({});
  const given = useBench((s) => s.diagram.parts[id]?.parameters);
  const path = { params: { path: { kind } } };
  const sheet = useAnswer(() => ask(api.GET("/api/data-sheets/{kind}", path)), kind);
  const { answer, problem } = useAnswer(
    () => ask(api.POST("/api/data-sheets/{kind}", { ...path, body: { figures: typed } })),
    JSON.stringify([kind, typed]),
  );
  const refused = sheet.problem ?? problem;
  const set = (name: string, text: string) => setTyped((t) => ({ ...t, [name]: text }));
  const take = () => {
    const operations = (answer?.values ?? []).map((v) => ({
      op: "add" as const,
      path: here("parts", id, "parameters", v.parameter),
      value: v.text,
    }));
    edit("Take values from a data sheet", operations);
    onTaken();
  };
  return (
    <>
      {refused && <Message bad>{[refused.message, refused.advice].filter(Boolean).join(" ")}</Message>}
      {groupsOf(sheet.answer?.figures ?? []).map(([group, members]) => (
        <div key={group} role="group" aria-label={group}>
          {members.length > 1 && <p className={cx("sub", "sheet-group")}>{group}</p>}
          {members.map((f) => (
            <div key={f.name} className={cx("row", { bad: answer?.problems[f.name] })}>
              <label htmlFor={`${id}-sheet-${f.name}`}>{f.title}</label>
              <TextField
                id={`${id}-sheet-${f.name}`}
                label={`${f.title}, on the data sheet`}
                value={typed[f.name] ?? ""}
                placeholder="not given"
                invalid={answer?.problems[f.name] !== undefined}
                commit={(text) => set(f.name, text)}
                onEmpty={() => set(f.name, "")}
              />
              <small>{f.unit}</small>
              {answer?.problems[f.name] && <Message bad>{answer.problems[f.name]}</Message>}
            </div>
          ))}
        </div>
      ))}
      {answer && answer.values.length > 0 && (
        <>
          <h3>What follows from them</h3>
          <ul className={cx("sheet-values")} aria-label="What follows from the data sheet">
            {answer.values.map((v) => (
              <li key={v.parameter}>
                <b>{v.parameter}</b> <span className="mono">{v.text}</span>
                <small>{v.from}</small>
                {v.doubt && <small className={cx("sheet-doubt")}>{v.doubt}</small>}
              </li>
            ))}
          </ul>
          <Button size="small" type="primary" disabled={answer.values.every((v) => given?.[v.parameter] === v.text)} onClick={take}>
            Take these values
          </Button>
        </>
      )}
    </>
  );
}

/** Figures by what they tell of, in their order. */
function groupsOf(figures: readonly Figure[]): [string, Figure[]][] {
  const groups = new Map<string, Figure[]>();
  for (const f of figures) groups.set(f.group, [...(groups.get(f.group) ?? []), f]);
  return [...groups];
}
