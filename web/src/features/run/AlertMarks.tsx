import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { setTime } from "../../state/runs";
import { format } from "../../ui/format";
import styles from "./run.module.css";

const cx = classNames.bind(styles);

/** More marks than these would be a bar. */
const MOST = 200;

/** When alerts were raised, as marks on the time bar by their grades; each leads to its instant. */
export function AlertMarks({ end }: { end: number }) {
  const { raised, alerts } = useBench(useShallow((s) => ({ raised: s.alerts, alerts: s.model.alerts })));
  return raised.slice(0, MOST).map((r) => {
    const alert = alerts[r.alert];
    const since = Number(r.since);
    if (!alert || since > end) return null;
    return (
      <i
        key={`${r.alert} ${since}`}
        className={cx("alert-mark", alert.grade)}
        title={`${format(since, 6)} s: ${alert.text} (${alert.grade})`}
        style={{ left: `${(since / end) * 100}%` }}
        onPointerDown={(e) => (e.stopPropagation(), setTime(since))}
      />
    );
  });
}
