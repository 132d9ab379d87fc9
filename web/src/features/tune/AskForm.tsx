import classNames from "classnames/bind";
import { Button, Select } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { askFor, HAND, useTune } from "../../state/tune";
import { format } from "../../ui/format";
import { NumberField } from "./NumberField";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

const kinds = [
  { value: "load", label: "least load error" },
  { value: "integralGain", label: "largest integral gain" },
  { value: "setPoint", label: "least set-point error" },
  { value: "margin", label: "bandwidth and phase margin" },
] as const;

type Kind = (typeof kinds)[number]["value"];

/** Asks for gains: the best ones under limits, or those with a bandwidth and a margin. They become a candidate. */
export function AskForm() {
  const { wishes, form, ratio, busy, hand } = useTune(
    useShallow((s) => ({ wishes: s.wishes, form: s.form, ratio: s.ratio, busy: s.busy, hand: s.designs.get(HAND)?.figures })),
  );
  const [open, setOpen] = useState(false);
  const [kind, setKind] = useState<Kind>("load");
  const [peak, setPeak] = useState<number | null>(null);
  const [bandwidth, setBandwidth] = useState<number | null>(null);
  const [margin, setMargin] = useState(60);
  const points = useBench((s) => s.model.operatingPoints);
  const [damping, setDamping] = useState<number | null>(null);
  const [everywhere, setEverywhere] = useState(false);
  const [weighted, setWeighted] = useState(false);
  const [refusal, setRefusal] = useState<string | null>(null);
  if (!open)
    return (
      <Button size="small" onClick={() => setOpen(true)}>
        Ask for gains…
      </Button>
    );
  const limit = peak ?? Number(wishes.sensitivity ?? 1.6);
  const speed = bandwidth ?? Number(hand?.bandwidth ?? 1);
  const find = () => {
    setRefusal(null);
    if (kind === "margin")
      askFor(
        { margin: { form, bandwidth: speed, phaseMargin: margin }, best: null },
        `asked: ${format(speed, 3)} rad/s, ${format(margin, 3)}°`,
        setRefusal,
      );
    else
      askFor(
        {
          best: {
            form,
            goal: kind,
            sensitivity: limit,
            noiseGain: wishes.noiseGain,
            points: everywhere ? Object.keys(points) : null,
            damping,
            ratio,
            weighted,
          },
          margin: null,
        },
        `${form === "PD" ? "largest gain" : kinds.find((k) => k.value === kind)?.label} of ${form} at Ms ${format(limit, 3)}${
          damping === null ? "" : `, damped by ${format(damping, 2)}`
        }${weighted ? ", set-point weighed" : ""}${everywhere ? `, for all of ${Object.keys(points).length} points` : ""}`,
        setRefusal,
      );
  };
  return (
    <form
      className={cx("ask")}
      aria-label="Ask for gains"
      onSubmit={(e) => {
        e.preventDefault();
        find();
      }}
    >
      <Select size="small" aria-label="What is asked for" value={kind} options={[...kinds]} onChange={setKind} />
      {kind === "margin" ? (
        <span>
          <NumberField label="Bandwidth asked for, rad/s" value={speed} put={setBandwidth} /> rad/s{" "}
          <NumberField label="Phase margin asked for, degrees" value={margin} fits={(v) => v > 0 && v < 180} put={setMargin} /> °
        </span>
      ) : (
        <span>
          with Ms below <NumberField label="Largest peak of the sensitivity" value={limit} fits={(v) => v > 1} put={setPeak} />
        </span>
      )}
      {kind !== "margin" && (
        <label>
          <input
            type="checkbox"
            aria-label="All poles damped"
            checked={damping !== null}
            onChange={(e) => setDamping(e.target.checked ? 0.5 : null)}
          />{" "}
          all poles damped by{" "}
          <NumberField label="Least damping of all poles" value={damping ?? 0.5} fits={(v) => v > 0 && v < 1} put={setDamping} />
        </label>
      )}
      {kind !== "margin" && (
        <label>
          <input type="checkbox" checked={weighted} onChange={(e) => setWeighted(e.target.checked)} /> set-point weighed for its least error
        </label>
      )}
      {kind !== "margin" && Object.keys(points).length > 1 && (
        <label>
          <input type="checkbox" checked={everywhere} onChange={(e) => setEverywhere(e.target.checked)} /> for all of the saved points
        </label>
      )}
      <Button size="small" type="primary" htmlType="submit" loading={busy}>
        Find gains
      </Button>
      <Button size="small" type="text" onClick={() => setOpen(false)}>
        Close
      </Button>
      {refusal && (
        <p className={cx("remark")} role="alert">
          {refusal}
        </p>
      )}
    </form>
  );
}
