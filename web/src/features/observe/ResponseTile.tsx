import classNames from "classnames/bind";
import { useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { PALETTE } from "../../plots/colors";
import { spanOf, type Line } from "../../plots/curves";
import { Plot, type Range } from "../../plots/Plot";
import { useBench } from "../../state/bench";
import { linearAt, type Answer, type Where } from "../../state/linear";
import type { Response, Tile } from "../../state/plotSheets";
import { infoOf } from "../../state/signals";
import { useAnswer } from "../../state/useAnswer";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

interface Form {
  title: string;
  x: (a: Answer) => readonly (number | string)[];
  y: (a: Answer) => readonly (number | string)[];
  unit: string;
  /** The unit along the bottom; that of frequencies without it. */
  across?: string;
}

const forms: Readonly<Record<string, Form>> = {
  gain: { title: "Gain", x: (a) => a.frequencies, y: (a) => a.magnitude, unit: "dB" },
  phase: { title: "Phase", x: (a) => a.frequencies, y: (a) => a.phase, unit: "°" },
  nyquist: { title: "Complex plane", x: (a) => a.re, y: (a) => a.im, unit: "", across: "real part, imaginary part upwards" },
  nichols: { title: "Gain over phase", x: (a) => a.phase, y: (a) => a.magnitude, unit: "dB", across: "phase, °" },
  step: { title: "Step", x: (a) => a.times, y: (a) => a.step, unit: "", across: "time, s" },
};

const formOf = (of: Pick<Response, "shows">): Form => forms[of.shows] ?? (forms["gain"] as Form);

/** What a tile is called that nobody gave a name. */
export function responseTitle(of: Response, infos: Parameters<typeof infoOf>[0]): string {
  const label = (signal: string) => infoOf(infos, signal)?.view.label ?? signal;
  return of.from && of.to ? `${formOf(of).title}, ${label(of.from)} to ${label(of.to)}` : "Linear response";
}

/** How far about −1 the complex plane is shown at first: what runs off at an integrator says nothing about it. */
const NEAR = 2;

/** The response of a linear system, computed anew whenever the model has changed. */
export function ResponseTile({ tile }: { tile: Tile }) {
  const { model, revision } = useBench(useShallow((s) => ({ model: s.id, revision: s.view.resultsRevision })));
  const points = useBench((s) => s.model.operatingPoints);
  const of = tile.response;
  const known = (of?.points ?? []).filter((p) => p in points);
  const instant: Where = { at: of?.at == null ? null : Number(of.at), point: null };
  const [first = instant, ...more] = known.map((point): Where => ({ at: null, point }));
  const question = of?.from && of.to ? { from: of.from, to: of.to, open: of.open } : null;
  const { answer, problem, busy } = useAnswer<[Answer, ...Answer[]]>(
    question ? () => linearAt(question, first, more) : null,
    JSON.stringify([model, revision, question, first, more]),
  );
  const form = of ? formOf(of) : null;
  const scale = of?.hertz ? 1 / (2 * Math.PI) : 1;
  const lines = useMemo(() => {
    if (!answer || !form) return [];
    return answer.map((a, i): Line => {
      const x = form.x(a).map((v) => Number(v) * (form.across ? 1 : scale));
      return { x, y: form.y(a).map(Number), color: PALETTE[i % PALETTE.length] as string };
    });
  }, [answer, form, scale]);
  const [zoom, setZoom] = useState<{ x: Range; y: Range | null } | null>(null);
  if (!of || !form || !question)
    return <div className={cx("tile-empty")}>Drag the signal that goes in here, then the one that comes out.</div>;
  if (problem)
    return (
      <div className={cx("tile-empty")} role="alert">
        {problem.message} {problem.advice}
      </div>
    );
  const isPlane = of.shows === "nyquist";
  const logX = !form.across;
  const whole: Range = isPlane ? [-1 - NEAR, NEAR - 1] : spanOf(lines, logX);
  const y = zoom?.y ?? (isPlane ? ([-NEAR, NEAR] as Range) : undefined);
  const rule = { gain: 0, phase: -180, nichols: 0 }[of.shows];
  return (
    <>
      <Plot
        label={tile.title ?? form.title}
        lines={lines}
        x={zoom?.x ?? whole}
        y={y}
        logX={logX}
        unit={form.unit}
        xUnit=""
        showX
        rules={rule === undefined ? [] : [{ from: whole[0], to: whole[1], value: rule, color: "#6B7F92" }]}
        pins={isPlane || of.shows === "nichols" ? [{ x: isPlane ? -1 : -180, y: 0, text: "−1" }] : []}
        onZoom={(x, v) => (!logX || x[0] > 0) && setZoom({ x, y: v ?? zoom?.y ?? null })}
        onFit={() => setZoom(null)}
      />
      <div className={cx("foot")} aria-busy={busy}>
        {answer?.map((a, i) => (
          <span key={i} className={cx("foot-name")}>
            <i style={{ borderTopColor: PALETTE[i % PALETTE.length] as string }} />
            {known.length > 0 ? points[known[i] as string]?.name : a.point}
          </span>
        ))}
        <span className={cx("across")}>{form.across ?? `frequency, ${of.hertz ? "Hz" : "rad/s"}`}</span>
      </div>
    </>
  );
}
