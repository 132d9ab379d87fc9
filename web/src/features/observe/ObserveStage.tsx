import classNames from "classnames/bind";
import { useEffect } from "react";
import { useBench } from "../../state/bench";
import { refreshRuns } from "../../state/observe";
import { Splitter } from "../../ui/Splitter";
import { SheetView } from "./SheetView";
import { SignalPane } from "./SignalPane";
import { Strips } from "./Strips";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** Any quantity of the model, on sheets that every run fills again. Alternatives side by side have the screen to themselves. */
export default function ObserveStage() {
  const isSet = useBench((s) => s.set !== null);
  useEffect(() => void refreshRuns(), []);
  if (isSet) return <Strips />;
  return (
    <section className={cx("observe")} aria-label="Observe">
      <div className={cx("finder-pane")}>
        <SignalPane />
        <Splitter pane="pane-left" edge="right" className={cx("finder-edge")} />
      </div>
      <SheetView />
    </section>
  );
}
