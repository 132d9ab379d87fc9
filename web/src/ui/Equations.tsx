import classNames from "classnames/bind";
import { MathText } from "./Math";
import styles from "./ui.module.css";

const cx = classNames.bind(styles);

/** Equations in a frame. */
export const Equations = ({ lines }: { lines: readonly string[] }) => (
  <div className={cx("equations")}>
    {lines.map((tex, i) => (
      <MathText key={i} tex={tex} />
    ))}
  </div>
);
