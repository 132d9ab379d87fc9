import classNames from "classnames/bind";
import type { Card } from "./cards";
import styles from "./start.module.css";

const cx = classNames.bind(styles);

/** How a model stands by its requirements: a mark for each, and the count in words. */
export function Verdicts({ verdicts }: { verdicts: Card["verdicts"] }) {
  if (verdicts.length === 0) return null;
  const count = (kind: string) => verdicts.filter((v) => v === kind).length;
  const words = [
    count("met") && `${count("met")} met`,
    count("missed") && `${count("missed")} missed`,
    count("open") && `${count("open")} open`,
  ].filter(Boolean);
  return (
    <div className={cx("verdicts")}>
      <span className={cx("marks")} aria-hidden>
        {verdicts.slice(0, 24).map((v, i) => (
          <i key={i} className={cx("mark", v)} />
        ))}
      </span>
      <span>{words.join(", ")}</span>
    </div>
  );
}
