import classNames from "classnames/bind";
import { Button, Select } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ApiError, ask, type Schemas } from "../../api/client";
import { notify, useBench } from "../../state/bench";
import { act } from "../../state/edits";
import { useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { NumberField } from "./NumberField";
import styles from "./tune.module.css";
import { useAnswer } from "../../state/useAnswer";

const cx = classNames.bind(styles);

const kinds = [
  { value: "notch", label: "a notch", amount: "width", unit: "", says: "takes a frequency out of the loop" },
  { value: "lead", label: "a lead", amount: "of", unit: "°", says: "adds phase around a frequency" },
  { value: "lag", label: "a lag", amount: "of factor", unit: "", says: "raises the gain below a frequency" },
] as const;

type Kind = (typeof kinds)[number]["value"];
type Answer = Schemas["LoopElementAnswer"];

/** An element between the controller and its plant: what it does to the loop with the gains in hand, and a way to put it there. */
export function ElementForm() {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Button size="small" onClick={() => setOpen(true)}>
        Put an element in…
      </Button>
    );
  return <Opened close={() => setOpen(false)} />;
}

function Opened({ close }: { close: () => void }) {
  const { id, revision } = useBench(useShallow((s) => ({ id: s.id, revision: s.revision })));
  const { part, hand, where } = useTune(useShallow((s) => ({ part: s.part, hand: s.hand, where: JSON.stringify(whereOf(s)) })));
  const [kind, setKind] = useState<Kind>("notch");
  const [frequency, setFrequency] = useState<number | null>(null);
  const [amount, setAmount] = useState<number | null>(null);
  const { answer, problem, busy } = useAnswer<Answer>(
    part
      ? () =>
          ask(
            api.POST("/api/models/{id}/loops/element", {
              params: { path: { id } },
              body: { part, ...whereOf(useTune.getState()), gains: hand, kind, frequency, amount },
            }),
          )
      : null,
    JSON.stringify([id, revision, part, where, hand, kind, frequency, amount]),
  );
  const chosen = kinds.find((k) => k.value === kind) ?? kinds[0];
  const place = () => {
    if (!answer) return;
    act(answer.action);
    notify(`It stands behind the controller on the diagram; undo takes it out.`);
    close();
  };
  const figure = (label: string, of: (f: Answer["before"]) => number | null | undefined, unit = "") => (
    <tr>
      <th scope="row">{label}</th>
      <td className="mono">{told(of(answer?.before ?? ({} as Answer["before"])))}</td>
      <td className="mono">
        {told(of(answer?.after ?? ({} as Answer["before"])))} {unit}
      </td>
    </tr>
  );
  return (
    <form
      className={cx("ask")}
      aria-label="An element in the loop"
      aria-busy={busy}
      onSubmit={(e) => {
        e.preventDefault();
        place();
      }}
    >
      <Select
        size="small"
        aria-label="Kind of element"
        value={kind}
        options={kinds.map(({ value, label }) => ({ value, label }))}
        onChange={(k: Kind) => {
          setKind(k);
          setFrequency(null);
          setAmount(null);
        }}
      />
      <span>
        at{" "}
        <NumberField
          label="Frequency of the element, rad/s"
          className={cx("order-field")}
          value={frequency ?? (answer ? Number(answer.frequency) : null)}
          put={setFrequency}
        />{" "}
        rad/s, {chosen.amount}{" "}
        <NumberField
          label="Amount of the element"
          className={cx("order-field")}
          value={amount ?? (answer ? Number(answer.amount) : null)}
          put={setAmount}
        />{" "}
        {chosen.unit}
      </span>
      <p className={cx("remark")}>
        It {chosen.says}
        {kind === "notch" && answer && answer.resonances.length === 0 ? "; this plant does not swing" : ""}.
        {kind === "notch" &&
          answer?.resonances.map((r) => (
            <Button key={String(r.frequency)} type="link" size="small" onClick={() => setFrequency(Number(r.frequency))}>
              {format(Number(r.frequency), 3)} rad/s, damped by {format(Number(r.damping), 2)}
            </Button>
          ))}
      </p>
      {answer && (
        <table className={cx("element-figures")} aria-label="The loop without and with it">
          <thead>
            <tr>
              <td />
              <th scope="col">without</th>
              <th scope="col">with it</th>
            </tr>
          </thead>
          <tbody>
            {figure("bandwidth", (f) => f.bandwidth, "rad/s")}
            {figure("phase margin", (f) => f.phaseMargin, "°")}
            {figure("Ms", (f) => f.sensitivity)}
            {figure("load error", (f) => f.loadError)}
          </tbody>
        </table>
      )}
      {answer?.warning && <p className={cx("warning")}>{answer.warning}</p>}
      {problem && (
        <p className={cx("remark")} role="alert">
          {problem instanceof ApiError ? `${problem.message} ${problem.advice ?? ""}` : String(problem)}
        </p>
      )}
      <Button size="small" type="primary" htmlType="submit" disabled={!answer}>
        Place it in the loop
      </Button>
      <Button size="small" type="text" onClick={close}>
        Close
      </Button>
    </form>
  );
}

const told = (v: number | null | undefined) => (v === null || v === undefined ? "–" : format(Number(v), 3));
