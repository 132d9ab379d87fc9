import classNames from "classnames/bind";
import type { ReactNode } from "react";
import styles from "./start.module.css";

const cx = classNames.bind(styles);

const ways: [string[], string][] = [
  [["↑", "↓"], "choose a model, Enter opens it"],
  [["N"], "new model"],
  [["/"], "find"],
];

/** What stands beside the models. */
export function StartAside({ children }: { children: ReactNode }) {
  return (
    <aside className={cx("aside")} aria-label="Guidance">
      {children}
      <h3>Without the mouse</h3>
      <dl className={cx("ways")}>
        {ways.map(([keys, what]) => (
          <div key={what}>
            <dt>
              {keys.map((k) => (
                <kbd key={k}>{k}</kbd>
              ))}
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <p className="quiet">
        Scripts reach all of this by <a href="#/interface">the HTTP interface</a>.
      </p>
    </aside>
  );
}
