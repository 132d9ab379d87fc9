import classNames from "classnames/bind";
import { Button } from "antd";
import { useEffect, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../../api/client";
import { select, useBench } from "../../../state/bench";
import { setTime } from "../../../state/runs";
import styles from "./written.module.css";

const cx = classNames.bind(styles);

/** How often the list is asked for anew while a run goes on, in ms. */
const EVERY = 500;

/** The transitions that were taken up to the instant of the time bar, the latest first, with the values that decided. */
export function TakenList() {
  const { run, time, level } = useBench(useShallow((s) => ({ run: s.run?.id, time: s.time, level: s.level })));
  const [found, setFound] = useState<Schemas["TakenTransitions"] | null>(null);
  const until = time === null ? null : Math.floor(time * (1000 / EVERY)) / (1000 / EVERY) + EVERY / 1000;
  useEffect(() => {
    if (!run) return;
    let stale = false;
    const query = until === null ? { level } : { level, until };
    void ask(api.GET("/api/runs/{id}/taken", { params: { path: { id: run }, query } }))
      .then((t) => !stale && setFound(t))
      .catch(() => undefined);
    return () => {
      stale = true;
    };
  }, [run, until, level]);
  const shown = (found?.taken ?? []).filter((t) => time === null || t.time <= time);
  if (!run || !found) return null;
  return (
    <section aria-label="Transitions that were taken">
      <h3>Transitions taken</h3>
      {shown.length === 0 && <p className="quiet">None yet.</p>}
      <ol className={cx("ways")}>
        {shown.slice(0, 30).map((t) => (
          <li key={`${t.transition} ${t.time}`} className={cx("taken")}>
            <small className="mono">{t.time.toFixed(2)}</small>
            <Button
              type="text"
              size="small"
              className={cx("way")}
              onClick={() => {
                setTime(t.time);
                select([t.transition]);
              }}
            >
              <span>
                {t.from} → {t.to || "stays"} <small>{t.values.map((v) => `${v.name} ${v.value}`).join(", ")}</small>
              </span>
            </Button>
          </li>
        ))}
      </ol>
    </section>
  );
}
