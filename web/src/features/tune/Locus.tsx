import classNames from "classnames/bind";
import { Button, Input } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { Plane } from "./Plane";
import { useAnswer } from "../../state/useAnswer";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

interface Props {
  parameter: string;
  modes: readonly Schemas["ModeView"][];
  seen: readonly (readonly [number, number])[];
  close: () => void;
}

/** The poles of the model over a parameter, from its lowest value (ring) to its highest; crosses are those of now. */
export function Locus({ parameter, modes, seen, close }: Props) {
  const where = useTune(useShallow(whereOf));
  const { id, revision } = useBench(useShallow((s) => ({ id: s.id, revision: s.revision })));
  const [range, setRange] = useState<{ from: string; to: string }>({ from: "", to: "" });
  const [typed, setTyped] = useState(range);
  const { answer, problem, busy } = useAnswer<Schemas["LocusAnswer"]>(
    () =>
      ask(
        api.POST("/api/models/{id}/modes/locus", {
          params: { path: { id } },
          body: { ...where, parameter, from: range.from || null, to: range.to || null },
        }),
      ),
    JSON.stringify([id, revision, where, parameter, range]),
  );
  const branches = (answer?.branches ?? []).map((b) => b.filter((p) => p !== null));
  const ends = (pick: (b: (typeof branches)[number]) => (typeof branches)[number][number] | undefined) =>
    branches.flatMap((b) => {
      const p = pick(b);
      return p ? [[Number(p.re), Number(p.im)] as const] : [];
    });
  const reach = 2 * Math.max(...seen.map(([a, b]) => Math.hypot(a, b)), 1e-9);
  const near = branches.flatMap((b) => b.map((p) => [Number(p.re), Number(p.im)] as const)).filter(([a, b]) => Math.hypot(a, b) < reach);
  const value = (v: number | string | undefined) => (v === undefined ? "" : format(Number(v), 3));
  return (
    <div className={cx("locus")} aria-busy={busy}>
      <form
        className={cx("view-bar")}
        aria-label="Root locus"
        onSubmit={(e) => {
          e.preventDefault();
          setRange(typed);
        }}
      >
        <b>{parameter}</b>
        <label>
          from{" "}
          <Input
            size="small"
            aria-label="Lowest value"
            placeholder={value(answer?.values[0])}
            value={typed.from}
            onChange={(e) => setTyped({ ...typed, from: e.target.value })}
          />
        </label>
        <label>
          to{" "}
          <Input
            size="small"
            aria-label="Highest value"
            placeholder={value(answer?.values.at(-1))}
            value={typed.to}
            onChange={(e) => setTyped({ ...typed, to: e.target.value })}
          />
        </label>
        <Button size="small" htmlType="submit">
          Draw
        </Button>
        <Button size="small" type="text" onClick={close}>
          Close
        </Button>
      </form>
      {problem ? (
        <p className={cx("refusal")} role="alert">
          {problem.message} {problem.advice}
        </p>
      ) : (
        <Plane
          id="locus"
          title={`Poles over ${parameter}, now ${value(answer?.present)} ${answer?.unit ?? ""}`}
          curves={branches.map((b, i) => ({
            name: `branch ${i}`,
            x: b.map((p) => Number(p.re)),
            y: b.map((p) => Number(p.im)),
            color: "#0072B2",
            width: 1.5,
          }))}
          crosses={modes.flatMap((m) => {
            const [a, b] = [Number(m.re), Number(m.im)];
            return b === 0 ? [[a, b] as const] : [[a, b] as const, [a, -b] as const];
          })}
          rings={ends((b) => b[0])}
          seen={[...seen, ...near]}
          rays={[0.2, 0.5, 0.8]}
          labels={["real part, 1/s", "imaginary part, 1/s"]}
        />
      )}
    </div>
  );
}
