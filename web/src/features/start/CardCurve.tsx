import { smallPath } from "../../plots/SmallCurve";
import { format } from "../../ui/format";
import type { Card } from "./cards";
import classNames from "classnames/bind";
import styles from "./start.module.css";

const cx = classNames.bind(styles);

const SIZE = { width: 116, height: 40 };

/** A model's first plotted signal over a run, with where it ended. */
export function CardCurve({ course }: { course: NonNullable<Card["course"]> }) {
  const times = Float64Array.from(course.points.filter((_, i) => i % 2 === 0));
  const values = Float64Array.from(course.points.filter((_, i) => i % 2 === 1));
  const last = values[values.length - 1];
  return (
    <figure className={cx("curve")}>
      <svg width={SIZE.width} height={SIZE.height} aria-hidden>
        <path d={smallPath({ times, values }, SIZE)} />
      </svg>
      <figcaption>
        <span title={course.label}>{course.label}</span>{" "}
        <b className="mono">
          {last === undefined ? "" : format(last)} {course.unit}
        </b>
      </figcaption>
    </figure>
  );
}
