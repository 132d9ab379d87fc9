import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import { Button } from "antd";
import type { Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { toggleProbe } from "../../state/edits";
import { format, told } from "../../ui/format";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** What follows from the typed values. */
export function DerivedFigures({ derived }: { derived: readonly Schemas["DerivedView"][] }) {
  if (derived.length === 0) return null;
  return (
    <>
      <h3>Derived</h3>
      <dl className={cx("figures")}>
        {derived.map((d) => (
          <div key={d.name}>
            <dt>{d.label}</dt>
            {d.values.map((v, i) => (
              <dd key={i} className="mono">
                {v === null ? "–" : format(Number(v))}
              </dd>
            ))}
            <dd className={cx("unit")}>{d.unit}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}

/** What the part came to, where the time bar stands. */
export function ResultFigures({ results }: { results: readonly Schemas["ResultView"][] }) {
  const { view, time, values, diagram } = useBench(
    useShallow((s) => ({ view: s.view, time: s.time, values: s.values, diagram: s.diagram })),
  );
  if (results.length === 0) return null;
  return (
    <>
      <h3>{time === null ? "Result" : `Result at ${format(time)} s`}</h3>
      {time === null ? (
        <p className={cx("sub")}>Run the model and put the time bar where you want to know.</p>
      ) : (
        <dl className={cx("figures")}>
          {results.map((r) => {
            const first = r.keys[0] ?? "";
            const unit = view.signals[first]?.unit;
            const plotted = r.keys.every((k) => diagram.signals[k]?.probe !== undefined);
            return (
              <div key={r.name}>
                <dt>
                  <Button
                    type="text"
                    size="small"
                    title={plotted ? "Stop plotting" : "Plot"}
                    aria-pressed={plotted}
                    onClick={() => r.keys.filter((k) => (diagram.signals[k]?.probe !== undefined) === plotted).forEach(toggleProbe)}
                  >
                    {r.label}
                  </Button>
                </dt>
                {r.keys.map((key) => (
                  <dd key={key} className="mono">
                    {told(values.get(key), view.signals[key])}
                  </dd>
                ))}
                <dd className={cx("unit")}>{unit === "1" ? "" : unit}</dd>
              </div>
            );
          })}
        </dl>
      )}
    </>
  );
}
