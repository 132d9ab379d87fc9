import classNames from "classnames/bind";
import { Button } from "antd";
import { CloseOutlined } from "@ant-design/icons";
import { useRef } from "react";
import { showPane, useBench } from "../../state/bench";
import { Splitter } from "../../ui/Splitter";
import { ChartCanvas } from "./written/ChartCanvas";
import { CatalogPane, type Drop } from "./CatalogPane";
import { Diagram } from "./Diagram";
import { HistoryPane } from "./HistoryPane";
import { Outline } from "./Outline";
import { TableStage } from "./written/TableStage";
import { ValveStage } from "./written/ValveStage";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

const panes = [
  { id: "outline", label: "Outline" },
  { id: "catalog", label: "Catalog" },
  { id: "history", label: "History" },
] as const;

/** The diagram, with the outline or the catalog at its left when wanted. */
export function BuildStage() {
  const pane = useBench((s) => s.pane);
  const drop = useRef<Drop>(() => {});
  const level = useBench((s) => s.level);
  const form = useBench((s) => (s.chart ? "chart" : s.table ? "table" : s.valve ? "valve" : null));
  return (
    <div className={cx("stage")}>
      {pane && (
        <aside className={cx("pane")} aria-label="Left pane">
          <div className={cx("pane-head")} role="group" aria-label="What the left pane shows">
            {panes.map((p) => (
              <Button
                key={p.id}
                type="text"
                size="small"
                className={cx("pane-tab", { on: p.id === pane })}
                aria-pressed={p.id === pane}
                onClick={() => showPane(p.id)}
              >
                {p.label}
              </Button>
            ))}
            <Button type="text" size="small" icon={<CloseOutlined />} aria-label="Close the left pane" onClick={() => showPane(null)} />
          </div>
          {pane === "outline" ? <Outline /> : pane === "history" ? <HistoryPane /> : <CatalogPane drop={drop} />}
          <Splitter pane="pane-left" edge="right" className={cx("pane-edge")} />
        </aside>
      )}
      {form === "chart" && <ChartCanvas key={level} />}
      {form === "table" && <TableStage key={level} />}
      {form === "valve" && <ValveStage key={level} />}
      {form === null && <Diagram key={level} drop={drop} />}
    </div>
  );
}
