import classNames from "classnames/bind";
import { Button } from "antd";
import { useEffect, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../../api/client";
import { select, useBench } from "../../../state/bench";
import styles from "./written.module.css";

const cx = classNames.bind(styles);

/** How a state can be reached from what is active at the instant of the time bar. */
export function Approach({ id }: { id: string }) {
  const { run, time, level } = useBench(useShallow((s) => ({ run: s.run?.id, time: s.time, level: s.level })));
  const [wanted, setWanted] = useState(false);
  const [found, setFound] = useState<Schemas["Approach"] | null>(null);
  useEffect(() => {
    if (!wanted || !run || time === null) return;
    let stale = false;
    void ask(api.GET("/api/runs/{id}/approach", { params: { path: { id: run }, query: { level, state: id, time } } }))
      .then((a) => !stale && setFound(a))
      .catch(() => !stale && setFound(null));
    return () => {
      stale = true;
    };
  }, [wanted, run, time, level, id]);
  if (!run) return null;
  if (!wanted)
    return (
      <Button size="small" onClick={() => setWanted(true)}>
        How do I get there?
      </Button>
    );
  return (
    <section aria-label="How do I get there">
      <h3>How do I get there?</h3>
      {time === null ? (
        <p className="quiet">Put the time bar to an instant.</p>
      ) : !found ? (
        <p className="quiet">Looking …</p>
      ) : found.isActive ? (
        <p>It is active at this instant.</p>
      ) : (
        <>
          {found.steps.length === 0 && <p>No way leads there from what is active now.</p>}
          <Steps steps={found.steps} />
          {found.others.length > 0 && <p className="quiet">Others that lead into it:</p>}
          <Steps steps={found.others} />
        </>
      )}
    </section>
  );
}

function Steps({ steps }: { steps: readonly Schemas["ApproachStep"][] }) {
  return (
    <ol className={cx("ways")}>
      {steps.map((s, i) => (
        <li key={s.transition}>
          <small>{i + 1}</small>
          <span>
            <Button type="text" size="small" className={cx("way")} onClick={() => select([s.transition])}>
              {s.from} → {s.to}
            </Button>
            {s.event && <div>waits for {s.event}</div>}
            {s.parts.map((p, j) => (
              <div key={j} className={cx(p.holds === true ? "holds" : p.holds === false ? "fails" : "")}>
                {p.holds === true ? "✓" : p.holds === false ? "✗" : "?"} {p.text}
                <small> {p.values.map((v) => `${v.name} ${v.value}`).join(", ")}</small>
              </div>
            ))}
            {s.wait && <small>{s.wait}</small>}
            {s.isOpen && !s.event && <small> open now</small>}
          </span>
        </li>
      ))}
    </ol>
  );
}
