import classNames from "classnames/bind";
import type { ReactNode } from "react";
import styles from "./ui.module.css";

const cx = classNames.bind(styles);

/** What fills the middle of the bench for one stage. */
export const StagePane = ({ label, className, children }: { label: string; className?: string; children: ReactNode }) => (
  <section className={cx("stage", className)} aria-label={label}>
    {children}
  </section>
);

/** A stage that has nothing to work on yet, and what to do about it. */
export const EmptyStage = ({ label, title, children }: { label: string; title: string; children: ReactNode }) => (
  <StagePane label={label} className={cx("empty")}>
    <h2>{title}</h2>
    <p>{children}</p>
  </StagePane>
);

/** The line at the top of a stage: what is worked on, and the main actions. */
export const StageHead = ({ children }: { children: ReactNode }) => <div className={cx("stage-head")}>{children}</div>;
