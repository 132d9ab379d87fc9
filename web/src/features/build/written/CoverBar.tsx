import classNames from "classnames/bind";
import { coveredWords, type Covered } from "../../../state/coverage";
import styles from "./table.module.css";

const cx = classNames.bind(styles);

/** How much of a row or column the cases came by. */
export function CoverBar({ found }: { found: Covered | undefined }) {
  if (!found || found.total === 0) return null;
  const told = coveredWords(found);
  return (
    <i className={cx("cover")} role="img" aria-label={told} title={told}>
      <i style={{ width: `${(100 * found.covered) / found.total}%` }} />
    </i>
  );
}
