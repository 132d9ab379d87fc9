import type { ReactNode } from "react";
import { turnsOf, type Pose } from "./geometry";
import classNames from "classnames/bind";
import type { PartView } from "../api/client";
import { Drawing } from "../ui/Drawing";
import { FittedFace } from "../ui/FittedFace";
import { MathText } from "../ui/Math";
import { Symbol } from "../ui/Symbol";
import styles from "./canvas.module.css";

const cx = classNames.bind(styles);

/** A drawing lies as its part does; what is to be read stays upright. */
function Posed({ view, pose, children }: { view: PartView; pose: Pose | undefined; children: ReactNode }) {
  const turns = turnsOf(view, pose?.turn);
  // A subsystem's own mark says nothing of directions.
  if ((turns === 0 && !pose?.flip) || view.opens) return <span>{children}</span>;
  return (
    <span className={cx("posed", { across: turns % 2 === 1 })}>
      <span style={{ transform: `rotate(${turns * 90}deg) scaleX(${pose?.flip ? -1 : 1})` }}>{children}</span>
    </span>
  );
}

interface Props {
  view: PartView;
  pose?: Pose;
  className: string;
  /** Smallest scale; a face that is larger still is cut off. */
  least: number;
}

/** What stands on a part's plate: its symbol or its mathematics, fitted in. */
export const PartFace = ({ view, pose, className, least }: Props) => (
  <FittedFace
    className={className}
    least={least}
    of={`${view.face}|${view.symbol}|${view.width}|${view.height}|${view.drawing?.sketch?.length ?? view.drawing?.picture?.length}`}
  >
    {view.drawing ? (
      <Posed view={view} pose={undefined}>
        <Drawing drawing={view.drawing} room={{ width: Number(view.width) - 8, height: Number(view.height) - 8 }} />
      </Posed>
    ) : view.symbol ? (
      <Posed view={view} pose={pose}>
        <Symbol name={view.symbol} />
      </Posed>
    ) : (
      <span className={cx("face-math")}>
        <MathText tex={`\\displaystyle ${view.face}`} />
      </span>
    )}
  </FittedFace>
);
