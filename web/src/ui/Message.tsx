import classNames from "classnames/bind";
import type { ReactNode } from "react";
import styles from "./ui.module.css";

const cx = classNames.bind(styles);

interface Props {
  /** Something is wrong; else it is only said. */
  bad?: boolean;
  /** Lies over what stands below, so that typing moves nothing. */
  floating?: boolean;
  /** Announced at once where it appears. */
  live?: boolean;
  children: ReactNode;
}

/** A line under a field or a heading. */
export const Message = ({ bad = false, floating = false, live = false, children }: Props) => (
  <p className={cx("message", { bad, floating })} role={live ? (bad ? "alert" : "status") : undefined}>
    {children}
  </p>
);
