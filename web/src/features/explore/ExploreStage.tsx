import classNames from "classnames/bind";
import { Button, Dropdown } from "antd";
import { useEffect } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { readStudies, shownStudy, useStudies } from "../../state/studies";
import { EmptyStage, StagePane } from "../../ui/StagePane";
import { AddChart, Charts } from "./Charts";
import { DesignTable } from "./DesignTable";
import { FactorLine } from "./FactorLine";
import { ResultsTable } from "./ResultsTable";
import { RunStrip } from "./RunStrip";
import { newStudies, StudiesPane } from "./StudiesPane";
import { TolerancesTable } from "./TolerancesTable";
import styles from "./explore.module.css";

const cx = classNames.bind(styles);

/** Studies of the model: what varies, the runs, and what they show. */
export default function ExploreStage() {
  const { id, studies } = useBench(useShallow((s) => ({ id: s.id, studies: s.model.studies })));
  const chosen = useStudies((s) => s.study);
  const view = useStudies((s) => s.view);
  const problem = useStudies((s) => s.problem);
  const hasResults = useStudies((s) => s.results !== null);
  useEffect(() => void readStudies(), [id]);
  const study = studies === undefined ? null : shownStudy({ study: chosen });
  if (!study && view !== "tolerances")
    return (
      <EmptyStage label="Explore" title="No study yet">
        A study runs the model many times: over values of a parameter, with tolerances drawn, or in search of the best or the worst.
        <span className={cx("begin")}>
          <Dropdown trigger={["click"]} menu={{ items: newStudies() }}>
            <Button type="primary">New study</Button>
          </Dropdown>{" "}
          <Button onClick={() => useStudies.setState({ view: "tolerances" })}>Tolerances of the model</Button>
        </span>
      </EmptyStage>
    );
  if (!study || view === "tolerances")
    return (
      <StagePane label="Explore" className={cx("explore")}>
        <StudiesPane />
        <div className={cx("main")}>
          <TolerancesTable />
        </div>
      </StagePane>
    );
  const tab = (value: typeof view, label: string) => (
    <button type="button" aria-pressed={view === value} onClick={() => useStudies.setState({ view: value })}>
      {label}
    </button>
  );
  return (
    <StagePane label="Explore" className={cx("explore")}>
      <StudiesPane />
      <div className={cx("main")}>
        <div className={cx("tabs")} role="group" aria-label="Views">
          {tab("runs", "Runs")}
          {tab("design", "Design table")}
          {view === "runs" && <AddChart study={study} />}
        </div>
        <FactorLine study={study} />
        {problem && (
          <p className={cx("refusal")} role="alert">
            {problem.message} {problem.advice}
          </p>
        )}
        {view === "design" ? (
          <DesignTable study={study} />
        ) : hasResults ? (
          <div className={cx("shown")}>
            <RunStrip />
            <Charts study={study} />
            <ResultsTable />
          </div>
        ) : (
          <p className={cx("nothing")}>Nothing has been run yet. Say what varies above, then press “Run the study” at the right.</p>
        )}
      </div>
    </StagePane>
  );
}
