import classNames from "classnames/bind";
import type { PartView } from "../api/client";
import { FittedFace } from "../ui/FittedFace";
import { MathText } from "../ui/Math";
import { Symbol } from "../ui/Symbol";
import styles from "./canvas.module.css";

const cx = classNames.bind(styles);

interface Props {
  view: PartView;
  className: string;
  /** Smallest scale; a face that is larger still is cut off. */
  least: number;
}

/** What stands on a part's plate: its symbol or its mathematics, fitted in. */
export const PartFace = ({ view, className, least }: Props) => (
  <FittedFace className={className} least={least} of={`${view.face}|${view.symbol}|${view.width}|${view.height}`}>
    {view.symbol ? (
      <Symbol name={view.symbol} />
    ) : (
      <span className={cx("face-math")}>
        <MathText tex={view.face} />
      </span>
    )}
  </FittedFace>
);
