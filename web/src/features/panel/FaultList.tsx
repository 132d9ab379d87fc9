import classNames from "classnames/bind";
import { Switch } from "antd";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { isFaultActive, switchFault } from "../../state/panels";
import styles from "./panel.module.css";

const cx = classNames.bind(styles);

/** The faults of the model with their switches. */
export function FaultList() {
  const { faults, set, playing } = useBench(
    useShallow((s) => ({ faults: s.model.faults, set: s.panelSet, playing: s.play !== null && s.play.state !== "finished" })),
  );
  return (
    <section className={cx("alerts")} aria-label="Faults">
      <header>
        <b>Faults</b>
        <span className="quiet">{playing ? "in this run" : "from the start"}</span>
      </header>
      <ul>
        {Object.entries(faults).map(([id, f]) => {
          const on = isFaultActive(id, f, playing ? set : null);
          return (
            <li key={id} className={cx("fault", { on })}>
              <i className={cx({ on })} />
              <span>{f.name}</span>
              <Switch
                size="small"
                aria-label={f.name}
                checked={on}
                disabled={!!f.times}
                title={f.times ? `By its schedule: ${f.times}` : undefined}
                onChange={(to) => switchFault(id, to)}
              />
            </li>
          );
        })}
        {Object.keys(faults).length === 0 && <li className="quiet">The model has no faults yet: give a signal one in its inspector.</li>}
      </ul>
    </section>
  );
}
