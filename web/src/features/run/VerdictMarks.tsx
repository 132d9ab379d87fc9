import classNames from "classnames/bind";
import { Tooltip } from "antd";
import { useMemo } from "react";
import { useBench } from "../../state/bench";
import { setTime } from "../../state/runs";
import { format } from "../../ui/format";
import { missedOf } from "./verdictMarks";
import styles from "./run.module.css";

const cx = classNames.bind(styles);

const none: readonly never[] = [];

/** When requirements were missed, as marks on the time bar; what was asked for before lies below the bar up to there. */
export function VerdictMarks({ end }: { end: number }) {
  const verdicts = useBench((s) => s.run?.verdicts ?? none);
  const missed = useMemo(() => missedOf(verdicts), [verdicts]);
  const place = (t: number) => `${(t / end) * 100}%`;
  return missed.map(({ key, name, from, at }) => (
    <span key={key}>
      {from !== null && from < at && <i className={cx("missed-stretch")} style={{ left: place(from), width: place(at - from) }} />}
      <Tooltip title={`${name} is missed here${from === null ? "" : `; asked for since ${format(from, 5)} s`}`}>
        <i className={cx("missed-mark")} style={{ left: place(at) }} onPointerDown={(e) => (e.stopPropagation(), setTime(at))} />
      </Tooltip>
    </span>
  ));
}
