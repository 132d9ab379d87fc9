import classNames from "classnames/bind";
import { Button } from "antd";
import { useShallow } from "zustand/react/shallow";
import { setStage, useBench } from "../../state/bench";
import { choose, useCases } from "../../state/cases";
import type { RequirementNode } from "../../state/document";
import { stimulusPoints } from "../../state/factors";
import { chooseStudy, useStudies } from "../../state/studies";
import { addBreakingStudy, addFaultStudy } from "../../state/studyEdits";
import { format } from "../../ui/format";
import { limitOf } from "./limits";
import { Chips } from "./VerifyAside";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

/** A requirement over all cases: what it asks, where it comes from, and what is left of it in each. */
export function RequirementInspector({ id, node }: { id: string; node: RequirementNode }) {
  const cases = useBench(useShallow((s) => s.model.cases));
  const all = useCases((s) => s.all);
  const cells = (all?.cases ?? []).flatMap((c) => {
    const cell = c.cells.find((x) => x.requirement === id);
    return cell ? [{ case: c.id, name: cases[c.id]?.name ?? "", cell }] : [];
  });
  const facts = [
    ["Source", node.source],
    ["Rationale", node.rationale],
    ["Priority", node.priority],
  ] as const;
  return (
    <>
      <h2>{node.name}</h2>
      <p className="quiet">{[node.identifier, node.group && `in ${node.group}`].filter(Boolean).join(", ")}</p>
      <Chips
        passed={0}
        failed={0}
        open={cells.filter((c) => c.cell.kind === "open").length}
        stale={cells.filter((c) => c.cell.isStale).length}
      />
      {node.text && <p>{node.text}</p>}
      <p className={cx("condition-box", "mono")}>{node.rule ?? `${node.kind === "lowerLimit" ? "stays" : ""} ${limitOf(node)}`}</p>
      <SearchButton requirement={id} />
      {facts.map(
        ([what, told]) =>
          told && (
            <div key={what}>
              <h3>{what}</h3>
              <p>{told}</p>
            </div>
          ),
      )}
      <h3>Margin by case</h3>
      {cells.length === 0 ? (
        <p className="quiet">No case has shown it yet.</p>
      ) : (
        <ul className={cx("margins")}>
          {cells.map((c) => (
            <li key={c.case}>
              <button type="button" onClick={() => choose({ case: c.case, requirement: id })}>
                <span>{c.name}</span>
                <Bar margin={c.cell.margin} most={Math.max(...cells.map((x) => Math.abs(Number(x.cell.margin ?? 0))))} kind={c.cell.kind} />
                <span className={cx("mono", "verdict", c.cell.kind)}>
                  {c.cell.margin == null ? c.cell.kind : `${format(Number(c.cell.margin), 3)} ${c.cell.unit}`}
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** Begins a search for a run that misses a requirement; what it varies can be changed before it runs. */
function SearchButton({ requirement }: { requirement: string }) {
  const hasFaults = useBench((s) => Object.keys(s.model.faults).length > 0);
  const begin = async () => {
    chooseStudy(addBreakingStudy(requirement, await stimulusPoints()));
    useStudies.setState({ view: "design" });
    setStage("explore");
  };
  return (
    <>
      <div className={cx("acts")}>
        <Button size="small" onClick={() => void begin()}>
          Search for a run that breaks this
        </Button>
        <Button
          size="small"
          disabled={!hasFaults}
          onClick={() => {
            chooseStudy(addFaultStudy(requirement));
            useStudies.setState({ view: "design" });
            setStage("explore");
          }}
        >
          Find the faults that break this
        </Button>
      </div>
      <p className="quiet">
        It varies the points of a stimulus and the model’s tolerances; add parameters and faults before you run it. What it finds becomes a
        case.
      </p>
    </>
  );
}

const Bar = ({ margin, most, kind }: { margin: number | null; most: number; kind: string }) => (
  <i className={cx("margin-bar")} aria-hidden>
    <i className={cx(kind)} style={{ width: `${most > 0 ? (100 * Math.abs(Number(margin ?? 0))) / most : 0}%` }} />
  </i>
);
