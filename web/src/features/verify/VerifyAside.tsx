import { useEffect, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import classNames from "classnames/bind";
import { api, ask, type Schemas } from "../../api/client";
import { notifyError, useBench } from "../../state/bench";
import { useCases } from "../../state/cases";
import { CaseInspector } from "./CaseInspector";
import { GroupInspector } from "./GroupInspector";
import { RequirementInspector } from "./RequirementInspector";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

type SuiteSummary = Schemas["SuiteSummary"];

/** Beside what is verified: the chosen case, requirement or group, or how all of it stands. */
export default function VerifyAside() {
  const chosen = useCases(useShallow((s) => ({ view: s.view, case: s.case, requirement: s.requirement, group: s.group })));
  const { cases, requirements, groups } = useBench(
    useShallow((s) => ({ cases: s.model.cases, requirements: s.model.requirements, groups: s.model.caseGroups })),
  );
  const node = chosen.case ? cases[chosen.case] : undefined;
  const requirement = chosen.requirement ? requirements[chosen.requirement] : undefined;
  const group = chosen.group ? groups[chosen.group] : undefined;
  return (
    <aside className={cx("aside")} aria-label="Inspector">
      {chosen.view === "cases" && chosen.case && node ? (
        <CaseInspector key={chosen.case} id={chosen.case} node={node} />
      ) : chosen.view === "cases" && chosen.requirement && requirement ? (
        <RequirementInspector id={chosen.requirement} node={requirement} />
      ) : chosen.view === "cases" && chosen.group && group ? (
        <GroupInspector key={chosen.group} id={chosen.group} node={group} />
      ) : (
        <Standing />
      )}
    </aside>
  );
}

/** How all cases stand. */
function Standing() {
  const all = useCases((s) => s.all);
  const rows = all?.cases ?? [];
  const count = (outcome: string) => rows.filter((r) => r.outcome === outcome).length;
  const stale = rows.filter((r) => r.isStale).length;
  return (
    <>
      <h2>All cases</h2>
      {rows.length === 0 ? (
        <p className="quiet">No case yet. Requirements are judged after every run; cases judge them in many.</p>
      ) : (
        <>
          <Chips passed={count("passed")} failed={count("failed") + count("broken")} open={count("open")} stale={stale} />
          <p className="quiet">Choose a case, a requirement, or a cell where both meet.</p>
          <EarlierRuns />
        </>
      )}
    </>
  );
}

/** How the cases came out when they were run before. */
function EarlierRuns() {
  const model = useBench((s) => s.id);
  const suite = useCases((s) => s.all?.suite);
  const [runs, setRuns] = useState<readonly SuiteSummary[]>([]);
  // Whenever a run begins or ends there is another line.
  const state = suite ? `${suite.id} ${suite.state}` : "";
  useEffect(() => {
    let wanted = true;
    ask(api.GET("/api/models/{id}/cases/runs", { params: { path: { id: model } } })).then(
      (all) => wanted && setRuns(all),
      (e: Error) => wanted && notifyError(e.message),
    );
    return () => {
      wanted = false;
    };
  }, [model, state]);
  if (runs.length === 0) return null;
  return (
    <>
      <h3>Runs of cases</h3>
      <ul className={cx("suites")} aria-label="Runs of cases">
        {runs.slice(0, MOST_RUNS).map((r) => (
          <li key={r.id}>
            <span>
              {moment(r.made)} <small className="quiet">r{r.revision}</small>
            </span>
            <span>
              {r.passed} of {r.cases} passed
            </span>
            <span className={cx("verdict", "missed")}>{Number(r.failed) > 0 ? `${r.failed} failed` : ""}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** More than these are no list that anybody reads. */
const MOST_RUNS = 12;

const moment = (made: string) =>
  new Date(made).toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });

/** Counts as small marks. */
export function Chips({ passed, failed, open = 0, stale }: { passed: number; failed: number; open?: number; stale: number }) {
  return (
    <p className={cx("chips")}>
      {passed > 0 && <span className={cx("chip", "met")}>{passed} passed</span>}
      {failed > 0 && <span className={cx("chip", "missed")}>{failed} failed</span>}
      {open > 0 && <span className={cx("chip")}>{open} open</span>}
      {stale > 0 && <span className={cx("chip", "stale")}>{stale} stale</span>}
    </p>
  );
}
