import classNames from "classnames/bind";
import { Button, Select } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type CatalogPart, type Schemas } from "../../api/client";
import { referenceOf } from "../../state/document";
import { useBench } from "../../state/bench";
import { edit, here } from "../../state/model";
import { format } from "../../ui/format";
import { Message } from "../../ui/Message";
import { TextField } from "../../ui/TextField";
import { PointCurve } from "./PointCurve";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** Finds a size for a wanted duty, with what flows in where the time bar stands. */
export function SizingPanel({ id, part }: { id: string; part: CatalogPart }) {
  const { model, level, run, time } = useBench(useShallow((s) => ({ model: s.id, level: s.level, run: s.run, time: s.time })));
  const sizes = part.traits.sizes;
  const [parameter, setParameter] = useState(sizes[0] ?? "");
  const [duty, setDuty] = useState("");
  const [answer, setAnswer] = useState<Schemas["SizingAnswer"] | null>(null);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const label = (name: string) => part.parameters.find((p) => p.name === name)?.description ?? name;
  const find = async () => {
    if (!model || !run || time === null) return;
    setBusy(true);
    setProblem("");
    setAnswer(null);
    try {
      const body = { run: run.id, time, part: referenceOf(level, id), parameter, duty: duty || null };
      setAnswer(await ask(api.POST("/api/models/{id}/sizing", { params: { path: { id: model } }, body })));
    } catch (e) {
      setProblem([(e as Error).message, (e as { advice?: string }).advice].filter(Boolean).join(" "));
    } finally {
      setBusy(false);
    }
  };
  const take = (text: string) => {
    edit(`Set ${label(parameter).toLowerCase()} for the duty`, [
      { op: "add" as const, path: here("parts", id, "parameters", parameter), value: text },
    ]);
    setAnswer(null);
  };
  const points = [...(answer?.points ?? []), ...(answer?.found ? [answer.found] : [])]
    .filter((p, i, all) => all.findIndex((q) => q.value === p.value) === i)
    .sort((a, b) => Number(a.value) - Number(b.value));
  const read = (value: number) => value * Number(answer?.scale ?? 1) + Number(answer?.shift ?? 0);
  return (
    <section aria-label="Size for a duty">
      <h3>Size for a duty</h3>
      <div className={cx("row", "wide")}>
        <label htmlFor={`${id}-size`}>Size</label>
        <Select
          id={`${id}-size`}
          size="small"
          aria-label="Size to be found"
          value={parameter}
          onChange={(value) => {
            setParameter(value);
            setAnswer(null);
          }}
          options={sizes.map((name) => ({ value: name, label: label(name) }))}
        />
      </div>
      <div className={cx("row", "wide")}>
        <label htmlFor={`${id}-duty`}>Wanted duty</label>
        <TextField
          id={`${id}-duty`}
          label="Wanted duty"
          value={duty}
          placeholder="5 kW; empty for the curve"
          commit={setDuty}
          onEmpty={() => setDuty("")}
        />
      </div>
      <div className={cx("buttons")}>
        <Button size="small" loading={busy} disabled={!run || time === null} onClick={() => void find()}>
          {duty ? "Find the size" : "Show duty over size"}
        </Button>
        {answer?.found && answer.text && (
          <Button size="small" type="primary" onClick={() => take(answer.text as string)}>
            Take {answer.text}
          </Button>
        )}
      </div>
      {!run && <p className={cx("sub")}>Run the model first: the size is found for what flows in at the time bar.</p>}
      {problem && (
        <Message bad live>
          {problem}
        </Message>
      )}
      {answer && (
        <figure className={cx("table")}>
          <PointCurve
            x={points.map((p) => read(Number(p.value)))}
            y={points.map((p) => Number(p.duty) / 1000)}
            chosen={answer.found ? points.findIndex((p) => p.value === answer.found?.value) : undefined}
            label={`Duty in kW over ${label(parameter).toLowerCase()}${answer.unit ? ` in ${answer.unit}` : ""}`}
          />
          {answer.found && (
            <figcaption>
              {answer.text}: {format(Number(answer.found.duty) / 1000)} kW, effectiveness {format(Number(answer.found.effectiveness))},
              losses {format(Number(answer.found.firstLoss))} and {format(Number(answer.found.secondLoss))} Pa
            </figcaption>
          )}
        </figure>
      )}
    </section>
  );
}
