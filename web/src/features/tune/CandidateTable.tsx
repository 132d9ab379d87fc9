import classNames from "classnames/bind";
import { Button, Popconfirm } from "antd";
import { useShallow } from "zustand/react/shallow";
import type { DesignView, GainsView, LoopFiguresView, WishesView } from "../../api/client";
import { APPLIED, apply, dropCandidate, HAND, keep, takeInHand, typeGains, useTune } from "../../state/tune";
import { format } from "../../ui/format";
import { formMark, formName } from "./forms";
import { MarkIcon } from "./marks";
import { NumberField } from "./NumberField";
import { PlantOrder } from "./PlantOrder";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

interface Row {
  label: string;
  unit?: string;
  of: (f: LoopFiguresView) => number | null;
  wish?: keyof WishesView;
}

type Figure = string | number | null | undefined;
const number = (v: Figure) => (v === null || v === undefined ? null : Number(v));
const rows: Row[] = [
  { label: "bandwidth", of: (f) => number(f.bandwidth), wish: "bandwidth" },
  { label: "phase margin", unit: "°", of: (f) => number(f.phaseMargin), wish: "phaseMargin" },
  { label: "gain margin", unit: "dB", of: (f) => (f.gainMargin == null ? null : 20 * Math.log10(Number(f.gainMargin))) },
  { label: "delay margin", unit: "s", of: (f) => number(f.delayMargin) },
  { label: "Ms", of: (f) => number(f.sensitivity), wish: "sensitivity" },
  { label: "noise gain", of: (f) => number(f.noiseGain), wish: "noiseGain" },
  { label: "load error", of: (f) => number(f.loadError), wish: "loadError" },
  { label: "overshoot", unit: "%", of: (f) => (f.overshoot == null ? null : 100 * Number(f.overshoot)) },
  { label: "settles", unit: "s", of: (f) => number(f.settling) },
];

const gainNames = { k: "Gain", ti: "Integral time", td: "Derivative time", b: "Set-point weight" };

/** Gains of a disturbance-rejecting controller. */
const rejectionRows = {
  inputGain: { label: "Input gain", mark: <em>b₀</em>, unit: "" },
  bandwidth: { label: "Own bandwidth", mark: <em>ωc</em>, unit: "rad/s" },
  ratio: { label: "Observer ratio", mark: "observer", unit: "×" },
};

/** The designs side by side: gains, figures, and a way to take each one. */
export function CandidateTable() {
  const { designs, candidates, hand } = useTune(useShallow((s) => ({ designs: s.designs, candidates: s.candidates, hand: s.hand })));
  const order = [APPLIED, ...candidates.map((c) => c.name), HAND];
  const shown = order.flatMap((name) => designs.get(name) ?? []);
  const change = (part: Partial<GainsView>) => hand && typeGains({ ...hand, ...part });
  const changeRejection = (part: Partial<NonNullable<GainsView["rejection"]>>) =>
    hand?.rejection && typeGains({ ...hand, rejection: { ...hand.rejection, ...part } });
  const handTimes = hand?.form === "PID" || hand?.form === "PI";
  const gain = (d: DesignView, key: "k" | "ti" | "td" | "b") => {
    const v = number(d.gains?.[key]);
    if (d.name !== HAND || d.gains?.rejection || (key === "ti" && !handTimes) || (key === "td" && v === null))
      return v === null ? "–" : format(v, 3);
    return (
      <NumberField
        label={`${gainNames[key]} in hand`}
        className={cx("gain-field")}
        value={v}
        fits={(x) => (key === "k" ? x !== 0 : key === "td" || key === "b" ? x >= 0 : x > 0)}
        put={(x) => change({ [key]: x })}
      />
    );
  };
  const rejection = (d: DesignView, key: keyof typeof rejectionRows) => {
    const v = number(d.gains?.rejection?.[key]);
    if (d.name !== HAND || v === null) return v === null ? "–" : format(v, 3);
    return (
      <NumberField
        label={`${rejectionRows[key].label} in hand`}
        className={cx("gain-field")}
        value={v}
        fits={(x) => (key === "inputGain" ? x !== 0 : key === "ratio" ? x >= 1 : x > 0)}
        put={(x) => changeRejection({ [key]: x })}
      />
    );
  };
  // A weight is a gain like others once one differs from doing nothing.
  const weighs = shown.some((d) => d.gains?.b != null && Number(d.gains.b) !== 1);
  const anyPid = shown.some((d) => d.gains && !d.gains.rejection);
  const anyRejection = shown.some((d) => d.gains?.rejection);
  return (
    <div className={cx("candidates")}>
      <table aria-label="Candidates">
        <thead>
          <tr>
            <td />
            {shown.map((d) => (
              <th key={d.name} className={cx({ hand: d.name === HAND })} scope="col">
                <MarkIcon name={d.name} />
                <span>{d.name}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {anyRejection && (
            <tr>
              <th scope="row">form</th>
              {shown.map((d) => (
                <td key={d.name} className={cx({ hand: d.name === HAND })} title={d.gains ? formName(d.gains.form) : ""}>
                  {d.gains ? formMark(d.gains.form) : "–"}
                </td>
              ))}
            </tr>
          )}
          {anyRejection &&
            (Object.keys(rejectionRows) as (keyof typeof rejectionRows)[]).map((key) => (
              <tr key={key}>
                <th scope="row" title={rejectionRows[key].label}>
                  {rejectionRows[key].mark} <i>{rejectionRows[key].unit}</i>
                </th>
                {shown.map((d) => (
                  <td key={d.name} className={cx("mono", { hand: d.name === HAND })}>
                    {rejection(d, key)}
                  </td>
                ))}
              </tr>
            ))}
          {(anyPid ? (["k", "ti", "td", ...(weighs ? (["b"] as const) : [])] as const) : []).map((key) => (
            <tr key={key}>
              <th scope="row">
                <em>{{ k: "k", ti: "Ti", td: "Td", b: "b" }[key]}</em>{" "}
                {key === "ti" || key === "td" ? <i>s</i> : key === "b" && <i>set-point</i>}
              </th>
              {shown.map((d) => (
                <td key={d.name} className={cx("mono", { hand: d.name === HAND })}>
                  {gain(d, key)}
                </td>
              ))}
            </tr>
          ))}
          {rows.map((r, i) => (
            <tr key={r.label} className={cx({ first: i === 0 })}>
              <th scope="row">
                {r.label} {r.unit && <i>{r.unit}</i>}
              </th>
              {shown.map((d) => {
                const v = d.figures ? r.of(d.figures) : null;
                const missed = r.wish !== undefined && d.missed.includes(r.wish);
                return (
                  <td key={d.name} className={cx("mono", { hand: d.name === HAND, missed })}>
                    {d.figures?.isStable === false && i === 0 ? "unstable" : v === null ? "–" : format(v, 3)}
                  </td>
                );
              })}
            </tr>
          ))}
          <tr className={cx("actions")}>
            <td />
            {shown.map((d) => (
              <td key={d.name} className={cx({ hand: d.name === HAND })}>
                {d.name !== APPLIED && d.gains && <Apply design={d} />}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
      <ul className={cx("origins")}>
        {candidates.map((c) => (
          <li key={c.name}>
            <button type="button" onClick={() => takeInHand(c.name)} title="Take it in hand">
              {c.name}
            </button>{" "}
            {c.origin}
            <Button type="text" size="small" aria-label={`Take away ${c.name}`} onClick={() => dropCandidate(c.name)}>
              ×
            </Button>
          </li>
        ))}
      </ul>
      {hand?.rejection && <PlantOrder />}
      {designs.get(HAND)?.remark && <p className={cx("remark")}>{designs.get(HAND)?.remark}</p>}
      {designs.get(HAND)?.problem && <p className={cx("remark")}>{designs.get(HAND)?.problem}</p>}
      {designs.get(HAND)?.warning && (
        <p className={cx("warning")} role="alert">
          {designs.get(HAND)?.warning}
        </p>
      )}
      <Button size="small" disabled={!hand} onClick={() => keep(hand, "kept from the map")}>
        Keep in hand as a candidate
      </Button>
    </div>
  );
}

/** Puts gains into the model; what would be unstable or fragile asks first. */
function Apply({ design }: { design: DesignView }) {
  const isHand = design.name === HAND;
  const which = isHand ? "what is in hand" : design.name;
  const label = design.replacement ? `Replace the controller by ${which}` : `Apply ${which}`;
  const button = (onClick?: () => void) => (
    <Button size="small" type={isHand ? "primary" : "default"} aria-label={label} className={cx("apply")} {...(onClick ? { onClick } : {})}>
      {design.replacement ? "Replace" : "Apply"}
    </Button>
  );
  const loose = design.replacement?.loose.length ?? 0;
  const takes = loose > 0 ? `The part in its place has no port for ${loose} of its wires; they are taken off.` : "";
  if (!design.warning && !takes) return button(() => apply(design.name));
  return (
    <Popconfirm
      title={design.warning ?? takes}
      description={design.warning && takes ? `${takes} Go on all the same?` : "Put these gains into the model all the same?"}
      okText="Apply them"
      cancelText="Leave them"
      onConfirm={() => apply(design.name)}
    >
      {button()}
    </Popconfirm>
  );
}
