import classNames from "classnames/bind";
import { Button } from "antd";
import { useEffect } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { choose, showView, useCases } from "../../state/cases";
import { addCase, addGroup, grouped } from "../../state/caseEdits";
import { readTrees, treesOf, useTrees } from "../../state/faultTrees";
import { format } from "../../ui/format";
import { readCoverage, useCoverage } from "../../state/coverage";
import { kindNames } from "./CoverageTable";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

/** What there is to verify: requirements and cases by their groups, with how many of each are missed. */
export function VerifyPane({ onAddRequirement }: { onAddRequirement: () => void }) {
  const { requirements, cases, groups } = useBench(
    useShallow((s) => ({ requirements: s.model.requirements, cases: s.model.cases, groups: s.model.caseGroups })),
  );
  const { view, all, chosen, group } = useCases(useShallow((s) => ({ view: s.view, all: s.all, chosen: s.case, group: s.group })));
  const rows = new Map((all?.cases ?? []).map((c) => [c.id, c]));
  const missed = new Set((all?.cases ?? []).flatMap((c) => c.cells.filter((x) => x.kind === "missed").map((x) => x.requirement)));
  const failed = (id: string) => ["failed", "broken"].includes(rows.get(id)?.outcome ?? "");
  const headings = [...new Set(Object.values(requirements).map((r) => r.group ?? ""))];
  return (
    <nav className={cx("tree")} aria-label="What is verified">
      <button type="button" className={cx("root")} aria-pressed={view === "requirements"} onClick={() => showView("requirements")}>
        <b>Requirements</b>
        <span>{Object.keys(requirements).length}</span>
      </button>
      {headings
        .filter((h) => h !== "" || headings.length > 1)
        .map((h) => {
          const of = Object.entries(requirements).filter(([, r]) => (r.group ?? "") === h);
          return <Branch key={h} name={h || "without a group"} bad={of.filter(([id]) => missed.has(id)).length} count={of.length} />;
        })}
      <button type="button" className={cx("root")} aria-pressed={view === "cases"} onClick={() => (choose({}), showView("cases"))}>
        <b>Cases</b>
        <span>{Object.keys(cases).length}</span>
      </button>
      {grouped(cases, groups)
        .filter((g) => g.group !== null)
        .map((g) => (
          <Branch
            key={g.id}
            name={g.group?.name ?? ""}
            bad={g.cases.filter(([id]) => failed(id)).length}
            count={g.cases.length}
            on={view === "cases" && chosen === null && group === g.id}
            onClick={() => {
              choose({ group: g.id });
              showView("cases");
            }}
          />
        ))}
      <CoverageBranches />
      <Trees />
      <Reports />
      <div className={cx("adds")}>
        <Button size="small" onClick={onAddRequirement}>
          Add a requirement
        </Button>
        <Button
          size="small"
          onClick={() => {
            choose({ case: addCase(group) });
            showView("cases");
          }}
        >
          Add a case
        </Button>
        <Button
          size="small"
          onClick={() => {
            choose({ group: addGroup() });
            showView("cases");
          }}
        >
          Add a group of cases
        </Button>
      </div>
    </nav>
  );
}

function Branch({
  name,
  bad,
  count,
  on = false,
  onClick,
}: {
  name: string;
  bad: number;
  count: number;
  on?: boolean;
  onClick?: () => void;
}) {
  const told = (
    <>
      <span className={cx("branch-name")}>{name}</span>
      {bad > 0 && (
        <span className={cx("bad")} aria-label={`${bad} missed`}>
          {bad}
        </span>
      )}
      <span>{count}</span>
    </>
  );
  return onClick ? (
    <button type="button" className={cx("branch")} aria-pressed={on} onClick={onClick}>
      {told}
    </button>
  ) : (
    <div className={cx("branch")}>{told}</div>
  );
}

/** How much of each kind the cases came by. */
function CoverageBranches() {
  const on = useCases((s) => s.view === "coverage");
  const suite = useCases((s) => s.all);
  const { view, kind } = useCoverage(useShallow((s) => ({ view: s.view, kind: s.kind })));
  const goes = suite?.suite?.state === "running";
  // While cases run it would be read anew with each of them.
  useEffect(() => {
    if (!goes) void readCoverage();
  }, [suite, goes]);
  const open = (value: string | null) => {
    useCoverage.setState({ kind: value, part: null });
    showView("coverage");
  };
  return (
    <>
      <button type="button" className={cx("root")} aria-pressed={on && kind === null} onClick={() => open(null)}>
        <b>Coverage</b>
      </button>
      {(view?.kinds ?? []).map((k) => {
        const [covered, justified, total] = [Number(k.covered), Number(k.justified), Number(k.total)];
        return (
          <button
            key={k.key}
            type="button"
            className={cx("branch")}
            title={k.name}
            aria-pressed={on && kind === k.key}
            onClick={() => open(k.key)}
          >
            <span className={cx("branch-name")}>{kindNames[k.key] ?? k.name}</span>
            <i className={cx("cover")} aria-hidden>
              <i style={{ width: `${(100 * covered) / total}%` }} />
              <i className={cx("justified")} style={{ width: `${(100 * justified) / total}%` }} />
            </i>
            <span className={cx("percent")}>{Math.floor((100 * covered) / total)} %</span>
          </button>
        );
      })}
    </>
  );
}

/** The newest results as files for others. */
function Reports() {
  const model = useBench((s) => s.id);
  const forms = [
    ["html", "Web page"],
    ["pdf", "PDF"],
    ["junit", "JUnit XML"],
  ] as const;
  return (
    <>
      <div className={cx("root")}>
        <b>Report</b>
      </div>
      {forms.map(([form, name]) => (
        <a key={form} className={cx("branch")} href={`/api/models/${model}/report?form=${form}`} target="_blank" rel="noreferrer">
          <span className={cx("branch-name")}>{name}</span>
        </a>
      ))}
    </>
  );
}

/** Fault trees with how probable their top events are. */
function Trees() {
  const { revision, trees } = useBench(useShallow((s) => ({ revision: s.revision, trees: s.model.faultTrees })));
  const on = useCases((s) => s.view === "trees");
  const { views, chosen } = useTrees(useShallow((s) => ({ views: s.views, chosen: s.tree })));
  useEffect(() => void readTrees(), [revision]);
  const open = (tree: string | null) => {
    useTrees.setState({ tree });
    showView("trees");
  };
  return (
    <>
      <button type="button" className={cx("root")} aria-pressed={on && chosen === null} onClick={() => open(null)}>
        <b>Fault trees</b>
        <span>{Object.keys(trees).length}</span>
      </button>
      {treesOf(trees).map(([id, t]) => {
        const probability = views.find((v) => v.id === id)?.probability;
        return (
          <button key={id} type="button" className={cx("branch")} aria-pressed={on && chosen === id} onClick={() => open(id)}>
            <span className={cx("branch-name")}>{t.name}</span>
            <span>{probability == null ? "–" : format(Number(probability), 2)}</span>
          </button>
        );
      })}
    </>
  );
}
