import classNames from "classnames/bind";
import { Button } from "antd";
import { setStage, useBench } from "../state/bench";
import { stages } from "./stages";
import styles from "./app.module.css";

const cx = classNames.bind(styles);

export function Rail() {
  const stage = useBench((s) => s.stage);
  return (
    <nav className={cx("rail")} aria-label="Stages">
      <a href="#/" className={cx("mark")} aria-label="All models">
        <img src="/mark.svg" alt="" width="36" height="36" />
      </a>
      {stages.map((s) => (
        <Button
          key={s.id}
          type="text"
          className={cx("stage", { on: stage === s.id })}
          aria-current={stage === s.id ? "page" : undefined}
          onClick={() => setStage(s.id)}
        >
          <svg viewBox="0 0 20 20" aria-hidden>
            <path d={s.path} />
          </svg>
          {s.label}
        </Button>
      ))}
    </nav>
  );
}
