import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ApiError, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { takeInputGain, useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { formName } from "./forms";
import { NumberField } from "./NumberField";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

type Answer = Schemas["PlantOrderAnswer"];

/** What the plant of a disturbance-rejecting controller is taken for: from the linear model, or from a step on the running one. */
export function PlantOrder() {
  const { part, form, plantGain, effort } = useTune(
    useShallow((s) => ({ part: s.part, form: s.form, plantGain: s.map?.inputGain, effort: s.map?.units.effort })),
  );
  const id = useBench((s) => s.id);
  const [open, setOpen] = useState(false);
  const [height, setHeight] = useState<number | null>(null);
  const [duration, setDuration] = useState<number | null>(null);
  const [measured, setMeasured] = useState<{ part: string; answer: Answer } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const answer = measured?.part === part ? measured?.answer : undefined;
  if (!part) return null;
  const measure = () => {
    setBusy(true);
    setProblem(null);
    ask(
      api.POST("/api/models/{id}/loops/order", {
        params: { path: { id } },
        body: { part, ...whereOf(useTune.getState()), height, duration, limit: null },
      }),
    )
      .then((found) => setMeasured({ part, answer: found }))
      .catch((e: unknown) => setProblem(e instanceof ApiError ? `${e.message} ${e.advice ?? ""}` : String(e)))
      .finally(() => setBusy(false));
  };
  return (
    <section className={cx("order")} aria-label="Input gain of the plant">
      {plantGain != null && (
        <p className={cx("remark")}>
          Where the loop works the linear plant has an input gain of {format(Number(plantGain), 3)}.{" "}
          <Button type="link" size="small" onClick={() => takeInputGain(form, Number(plantGain))}>
            Take it
          </Button>
        </p>
      )}
      {!open && (
        <Button size="small" onClick={() => setOpen(true)}>
          Measure it with a step…
        </Button>
      )}
      {open && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            measure();
          }}
        >
          <span>
            step of{" "}
            <NumberField
              label="Height of the step"
              className={cx("order-field")}
              placeholder="auto"
              value={height ?? (answer ? Number(answer.height) : null)}
              fits={(v) => v !== 0}
              put={setHeight}
            />{" "}
            {effort} for{" "}
            <NumberField
              label="Duration of the step, s"
              className={cx("order-field")}
              placeholder="auto"
              value={duration ?? (answer ? Number(answer.duration) : null)}
              put={setDuration}
            />{" "}
            s
          </span>{" "}
          <Button size="small" type="primary" htmlType="submit" loading={busy}>
            Step
          </Button>
        </form>
      )}
      {open && !answer && !problem && (
        <p className={cx("remark")}>
          The step is added to the controller’s output while the loop stays closed; nothing changes in the model.
        </p>
      )}
      {problem && (
        <p className={cx("remark")} role="alert">
          {problem}
        </p>
      )}
      {open && answer && (
        <>
          <Course record={answer.record} />
          <p className={cx("remark")}>
            {formName(`rejection${answer.order}`)}, input gain <b>{format(Number(answer.inputGain), 3)}</b>: at{" "}
            {format(Number(answer.frequency), 3)} rad/s the gain goes with the power {format(Number(answer.slope), 2)} of the frequency.{" "}
            {answer.remark}{" "}
            <Button type="link" size="small" onClick={() => takeInputGain(`rejection${answer.order}`, Number(answer.inputGain))}>
              Take both
            </Button>
          </p>
        </>
      )}
    </section>
  );
}

/** What the step did and what answered, each over its own largest. */
function Course({ record }: { record: Answer["record"] }) {
  const [width, height] = [240, 56];
  const end = Number(record.times.at(-1) ?? 1);
  const line = (values: readonly (number | string)[]) => {
    const numbers = values.map(Number);
    const [low, high] = [Math.min(0, ...numbers), Math.max(0, ...numbers)];
    const scale = (height - 6) / Math.max(high - low, 1e-300);
    return record.times.map((t, i) => `${(Number(t) / end) * width},${height - 3 - ((numbers[i] ?? 0) - low) * scale}`).join(" ");
  };
  return (
    <svg width={width} height={height} className={cx("order-course")} role="img" aria-label="The step and what answered">
      <polyline points={line(record.input)} className={cx("order-input")} />
      <polyline points={line(record.output)} className={cx("order-output")} />
    </svg>
  );
}
