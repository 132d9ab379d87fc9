import classNames from "classnames/bind";
import { Checkbox, Select } from "antd";
import type { GainsView, LoopView } from "../../api/client";
import { setStep, settingOf, useCascade, type Wish } from "../../state/cascade";
import { format } from "../../ui/format";
import { NumberField } from "./NumberField";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

const wishes = [
  { value: "best", label: "least load error" },
  { value: "margin", label: "bandwidth and margin" },
];

const told = (g: GainsView | null | undefined) =>
  g?.rejection
    ? `b₀ ${format(Number(g.rejection.inputGain), 4)}  ωc ${format(Number(g.rejection.bandwidth), 4)} rad/s`
    : g
      ? [
          `k ${format(Number(g.k), 4)}`,
          g.ti == null ? null : `Ti ${format(Number(g.ti), 4)} s`,
          g.td ? `Td ${format(Number(g.td), 4)} s` : null,
        ]
          .filter(Boolean)
          .join("  ")
      : "–";
const number = (v: number | string | null | undefined) => (v == null ? "–" : format(Number(v), 3));

/** One loop of the cascade: what is wished of it, how it is excited, what it has now and what was found. */
export function CascadeRow({ loop }: { loop: LoopView }) {
  // Settings are read through the store's own function; its map tells when they change.
  useCascade((s) => s.settings);
  const { measured, running } = useCascade();
  const result = useCascade((s) => s.results.get(loop.part));
  const s = settingOf(loop.part);
  const busy = running !== null;
  const put = (change: Parameters<typeof setStep>[1]) => setStep(loop.part, change);
  const before = result?.before ?? loop.figures;
  return (
    <>
      <tr data-cascade={loop.name} className={cx({ running: running === loop.part, left: !s.included })}>
        <th scope="row" rowSpan={2}>
          <Checkbox
            aria-label={`Tune ${loop.name}`}
            checked={s.included}
            disabled={busy}
            onChange={(e) => put({ included: e.target.checked })}
          />{" "}
          {loop.order} {loop.name}
        </th>
        <td rowSpan={2}>
          <Select
            size="small"
            aria-label={`Form of ${loop.name}`}
            value={s.form}
            disabled={busy}
            options={["PI", "PID"].map((f) => ({ value: f, label: f, disabled: !loop.forms.includes(f) }))}
            onChange={(form) => put({ form })}
          />
        </td>
        <td rowSpan={2}>
          <Select
            size="small"
            aria-label={`Wish for ${loop.name}`}
            value={s.wish}
            disabled={busy}
            options={wishes}
            onChange={(wish: Wish) => put({ wish })}
            popupMatchSelectWidth={false}
          />
          <div className={cx("cascade-wish")}>
            {s.wish === "best" ? (
              <>
                Ms below{" "}
                <NumberField label={`Largest peak of ${loop.name}`} value={s.peak} fits={(v) => v > 1} put={(peak) => put({ peak })} />
              </>
            ) : (
              <>
                <NumberField label={`Bandwidth of ${loop.name}, rad/s`} value={s.bandwidth} put={(bandwidth) => put({ bandwidth })} /> rad/s{" "}
                <NumberField
                  label={`Phase margin of ${loop.name}, degrees`}
                  value={s.margin}
                  fits={(v) => v > 0 && v < 180}
                  put={(margin) => put({ margin })}
                />{" "}
                °
              </>
            )}
          </div>
        </td>
        <td rowSpan={2} className={cx("excitation")}>
          {measured && (
            <>
              <div>
                sine{" "}
                <NumberField
                  label={`Amplitude at ${loop.name}`}
                  value={s.amplitude ?? (result?.measured ? Number(result.measured.amplitude) : null)}
                  put={(amplitude) => put({ amplitude })}
                />
              </div>
              <div>
                within <NumberField label={`Limit of ${loop.name}`} value={s.limit} put={(limit) => put({ limit })} />
              </div>
            </>
          )}
        </td>
        <td className="mono">{told(result?.present ?? loop.gains)}</td>
        <td className="mono">{number(before?.bandwidth)}</td>
        <td className="mono">{before?.isStable === false ? "unstable" : number(before?.sensitivity)}</td>
      </tr>
      <tr className={cx("then")}>
        {result ? (
          <>
            <td className="mono">{told(result.gains)}</td>
            <td className="mono">{number(result.after.bandwidth)}</td>
            <td className="mono">{result.after.isStable === false ? "unstable" : number(result.after.sensitivity)}</td>
          </>
        ) : (
          <td colSpan={3} className="quiet">
            {running === loop.part
              ? measured
                ? "measuring…"
                : "tuning…"
              : running !== null && s.included
                ? "waits"
                : (loop.problem ?? "")}
          </td>
        )}
      </tr>
      {result && (result.remark || result.warning || (result.measured?.left.length ?? 0) > 0) && (
        <tr className={cx("told")}>
          <td colSpan={7}>
            {result.warning && <b className={cx("bad")}>{result.warning} </b>}
            {result.remark}
            {result.measured && result.measured.left.length > 0 && (
              <span title={result.measured.left.join("\n")}> {result.measured.left.length} frequencies could not be measured.</span>
            )}
          </td>
        </tr>
      )}
    </>
  );
}
