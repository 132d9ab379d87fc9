import classNames from "classnames/bind";
import { Segmented } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { goToPart } from "../../state/model";
import { useBench } from "../../state/bench";
import { useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { Locus } from "./Locus";
import { ModePicture } from "./ModePicture";
import { Movers } from "./Movers";
import { Plane } from "./Plane";
import { useAnswer } from "../../state/useAnswer";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

type Mode = Schemas["ModeView"];

/** The natural motions of the model about its operating point: how fast, how damped, and which states they move. */
export function ModesView() {
  const { id, revision } = useBench(useShallow((s) => ({ id: s.id, revision: s.revision })));
  const where = useTune(useShallow(whereOf));
  const { answer, problem, busy } = useAnswer<Schemas["ModesAnswer"]>(
    () => ask(api.POST("/api/models/{id}/modes", { params: { path: { id } }, body: where })),
    JSON.stringify([id, revision, where]),
  );
  const [own, setChosen] = useState<number | null>(null);
  const [picture, setPicture] = useState<"poles" | "diagram">("poles");
  const [locusOf, setLocusOf] = useState<string | null>(null);
  const chosen = own ?? leastDamped(answer?.modes ?? []);
  const mode = answer?.modes[Math.min(chosen, answer.modes.length - 1)];
  if (problem)
    return (
      <p className={cx("refusal")} role="alert">
        {problem.message} {problem.advice}
      </p>
    );
  if (answer && answer.modes.length === 0) return <p className={cx("view-note")}>The model has no states, so nothing moves by itself.</p>;
  return (
    <div className={cx("view", "halves")} aria-busy={busy}>
      <div className={cx("scrolled")}>
        {answer && answer.held.length > 0 && (
          <p className="quiet">What works at samples is held here: {answer.held.join(", ")}. Linear has loops with samples in them.</p>
        )}
        <table className={cx("mode-table")} aria-label="Modes">
          <thead>
            <tr>
              <th scope="col">frequency, rad/s</th>
              <th scope="col">damping</th>
              <th scope="col">time constant, s</th>
              <th scope="col">moves most</th>
            </tr>
          </thead>
          <tbody>
            {answer?.modes.map((m, i) => (
              <tr
                key={i}
                tabIndex={0}
                aria-selected={m === mode}
                className={cx({ chosen: m === mode })}
                onClick={() => setChosen(i)}
                onFocus={() => setChosen(i)}
              >
                <td className="mono">{format(Number(m.frequency), 4)}</td>
                <td className={cx("mono", { bad: Number(m.re) > 1e-9 })}>{format(Number(m.damping), 3)}</td>
                <td className="mono">{m.timeConstant == null ? "–" : format(Number(m.timeConstant), 4)}</td>
                <td>{m.states[0]?.state ?? "an approximated delay"}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {mode && answer.held.length === 0 && <Movers mode={mode} follow={setLocusOf} />}
      </div>
      <div className={cx("mode-side")}>
        {answer && locusOf !== null && (
          <Locus parameter={locusOf} modes={answer.modes} seen={seenOf(answer.modes, mode)} close={() => setLocusOf(null)} />
        )}
        {answer && locusOf === null && (
          <Segmented
            size="small"
            className={cx("plane-choice")}
            value={picture}
            options={[
              { value: "poles", label: "Poles" },
              { value: "diagram", label: "On the diagram" },
            ]}
            onChange={(v) => setPicture(v as typeof picture)}
          />
        )}
        {mode && locusOf === null && picture === "diagram" && <ModePicture mode={mode} />}
        {answer && locusOf === null && picture === "poles" && (
          <Plane
            id="modes"
            title="Poles of the model, with rays of damping 0.2, 0.5 and 0.8"
            crosses={answer.modes.flatMap((m) => conjugates(m))}
            marks={mode ? [{ x: Number(mode.re), y: Number(mode.im), text: `${format(Number(mode.frequency), 3)} rad/s` }] : []}
            seen={seenOf(answer.modes, mode)}
            rays={[0.2, 0.5, 0.8]}
            labels={["real part, 1/s", "imaginary part, 1/s"]}
          />
        )}
        {mode && (
          <div className={cx("scrolled")}>
            <Shape mode={mode} />
          </div>
        )}
      </div>
    </div>
  );
}

/** The motion that one looks for first. */
function leastDamped(modes: readonly Mode[]): number {
  const swinging = modes.map((m, i) => ({ i, d: Number(m.damping), swings: Number(m.im) !== 0 })).filter((m) => m.swings);
  return swinging.sort((a, b) => a.d - b.d)[0]?.i ?? 0;
}

const conjugates = (m: Mode) => {
  const [a, b] = [Number(m.re), Number(m.im)];
  return b === 0 ? [[a, b] as const] : [[a, b] as const, [a, -b] as const];
};

/** Poles that can be told apart from the chosen one; a hundred times as fast ones would hide it. */
function seenOf(modes: readonly Mode[], chosen: Mode | undefined) {
  const reach = 12 * Math.max(Number(chosen?.frequency ?? 1), 1e-9);
  const near = modes.filter((m) => Number(m.frequency) <= reach);
  return near.flatMap(conjugates);
}

/** Which states take part in a mode, and with which size and phase. */
function Shape({ mode }: { mode: Mode }) {
  return (
    <table className={cx("mode-table")} aria-label="Shape of the mode">
      <thead>
        <tr>
          <th scope="col">state</th>
          <th scope="col">share</th>
          <th scope="col">size</th>
          <th scope="col">phase</th>
        </tr>
      </thead>
      <tbody>
        {mode.states.slice(0, 10).map((s) => {
          const [re, im] = [Number(s.re), Number(s.im)];
          return (
            <tr key={s.state}>
              <td>
                {s.part ? (
                  <button type="button" className={cx("link")} onClick={() => void goToPart(s.part as string)}>
                    {s.state}
                  </button>
                ) : (
                  s.state
                )}
              </td>
              <td>
                <span className={cx("share")} style={{ width: `${(56 * Number(s.share)).toFixed(0)}px` }} />{" "}
                {format(100 * Number(s.share), 2)} %
              </td>
              <td className="mono">{format(Math.hypot(re, im), 3)}</td>
              <td className="mono">{format(Math.round((Math.atan2(im, re) * 1800) / Math.PI) / 10)}°</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
