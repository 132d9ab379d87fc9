import classNames from "classnames/bind";
import { Button, Switch } from "antd";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { referenceOf } from "../../state/document";
import { addFault, isFaultActive, switchFault } from "../../state/panels";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** The faults of a signal with their switches, and a way to give it one more. */
export function SignalFaults({ signalKey, name }: { signalKey: string; name: string }) {
  const { level, faults, set, playing } = useBench(
    useShallow((s) => ({ level: s.level, faults: s.model.faults, set: s.panelSet, playing: s.play !== null })),
  );
  const signal = referenceOf(level, signalKey);
  const own = Object.entries(faults).filter(([, f]) => f.signal === signal);
  return (
    <>
      {own.map(([id, f]) => (
        <div key={id} className={cx("row")}>
          <label>Fault: {f.name}</label>
          <Switch
            size="small"
            aria-label={f.name}
            checked={isFaultActive(id, f, playing ? set : null)}
            disabled={!!f.times}
            onChange={(on) => switchFault(id, on)}
          />
        </div>
      ))}
      <div className={cx("row")}>
        <label>Faults</label>
        <Button size="small" onClick={() => addFault(signal, `${name} fails`)}>
          Give it a fault
        </Button>
      </div>
    </>
  );
}
