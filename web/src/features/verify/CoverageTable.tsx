import classNames from "classnames/bind";
import { Button, Popconfirm, Segmented } from "antd";
import { useEffect, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { setStage, useBench } from "../../state/bench";
import { choose, showView } from "../../state/cases";
import { justify, readCoverage, unjustify, useCoverage, type Point, type Side } from "../../state/coverage";
import { stimulusPoints } from "../../state/factors";
import { chooseStudy, useStudies } from "../../state/studies";
import { addReachingStudy } from "../../state/studyEdits";
import { TextField } from "../../ui/TextField";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

export const kindNames: Record<string, string> = {
  decision: "Decisions",
  condition: "Conditions",
  "modified condition/decision": "MC/DC",
  border: "Borders",
  "when clause": "When clauses",
  statement: "Statements",
  "table interval": "Table intervals",
  state: "States",
  transition: "Transitions",
  "transition pair": "Transition pairs",
  alternative: "Alternatives",
};

/** What the cases came by: each decision both ways, each state, each alternative; what nobody saw can be justified in writing. */
export function CoverageTable() {
  const revision = useBench((s) => s.revision);
  const { view, kind, part, holes } = useCoverage(useShallow((s) => ({ view: s.view, kind: s.kind, part: s.part, holes: s.holes })));
  useEffect(() => void readCoverage(), [revision]);
  const points = (view?.points ?? []).filter(
    (p) =>
      (kind === null || p.kind === kind) && (part === null || p.part === part) && (!holes || p.sides.some((s) => Number(s.count) === 0)),
  );
  const open = (view?.points ?? []).flatMap((p) => p.sides).filter((s) => Number(s.count) === 0 && s.justification == null).length;
  return (
    <div className={cx("matrix-pane")}>
      <div className={cx("matrix-head")}>
        <h2>Coverage by {view?.cases === 1 ? "1 case" : `${view?.cases ?? 0} cases`}</h2>
        <Segmented
          size="small"
          aria-label="What of it is shown"
          value={holes ? "holes" : "all"}
          onChange={(value) => useCoverage.setState({ holes: value === "holes" })}
          options={[
            { value: "holes", label: `not seen ${open}` },
            { value: "all", label: "all" },
          ]}
        />
        {(kind ?? part) !== null && (
          <Button size="small" onClick={() => useCoverage.setState({ kind: null, part: null })}>
            {kind === null ? (view?.parts.find((p) => p.key === part)?.name ?? part) : (kindNames[kind] ?? kind)} only ×
          </Button>
        )}
        <span className={cx("grow")} />
        <Button
          size="small"
          onClick={() => {
            useCoverage.setState({ marks: true });
            setStage("build");
          }}
        >
          Show on the diagram
        </Button>
        {view && Number(view.stale) > 0 && (
          <span className="quiet">{view.stale} cases do not count: their results are out of date or missing</span>
        )}
      </div>
      <div className={cx("matrix-scroll")}>
        {view && view.cases === 0 ? (
          <p className={cx("nothing")}>No case has been run on the model as it is now. Run the cases, and see what they came by.</p>
        ) : points.length === 0 ? (
          <p className={cx("nothing")}>{holes ? "The cases came by everything that is shown here." : "There is nothing to come by."}</p>
        ) : (
          <table className={cx("points")} aria-label="What cases came by">
            <thead>
              <tr>
                <th scope="col">part</th>
                <th scope="col">what it asks</th>
                <th scope="col">seen</th>
                <th scope="col">not seen</th>
              </tr>
            </thead>
            <tbody>
              {points.map((p) => (
                <Row key={p.key} point={p} />
              ))}
            </tbody>
          </table>
        )}
        {(view?.lost ?? []).map((l) => (
          <p key={l.id} className={cx("refusal")} role="alert">
            A justification has lost its place, as its part or text has changed: “{l.reason}”{" "}
            <Button size="small" onClick={() => unjustify(l.id)}>
              Remove it
            </Button>
          </p>
        ))}
      </div>
    </div>
  );
}

function Row({ point: p }: { point: Point }) {
  const cases = useBench((s) => s.model.cases);
  return (
    <tr>
      <td>
        <button type="button" onClick={() => useCoverage.setState({ part: p.part, kind: null })}>
          {p.name}
        </button>
      </td>
      <td>
        <code>{p.text}</code>
        {p.place && <span className="quiet"> {p.place}</span>}
      </td>
      <td>
        {p.sides
          .filter((s) => Number(s.count) > 0)
          .map((s) => (
            <span key={s.side} className={cx("seen")}>
              {s.side === "reached" ? "" : `${s.side} `}
              {s.only != null && (
                <button
                  type="button"
                  onClick={() => {
                    choose({ case: s.only ?? null });
                    showView("cases");
                  }}
                >
                  only {cases[s.only]?.name}
                </button>
              )}
              {s.only == null && s.side === "reached" && "yes"}
            </span>
          ))}
      </td>
      <td>
        {p.sides
          .filter((s) => Number(s.count) === 0)
          .map((s) => (
            <Hole key={s.side} point={p} side={s} />
          ))}
      </td>
    </tr>
  );
}

/** Begins a search for a run that comes to it; what it varies can be changed before it runs. */
async function search(words: string, reach: string): Promise<void> {
  chooseStudy(addReachingStudy(words, reach, await stimulusPoints()));
  useStudies.setState({ view: "design" });
  setStage("explore");
}

/** Something that no case came by: in words, with its reason where somebody wrote one. */
function Hole({ point, side }: { point: Point; side: Side }) {
  const written = useBench((s) => (side.justification == null ? undefined : s.model.justifications[side.justification]));
  const [writing, setWriting] = useState(false);
  return (
    <div className={cx("hole", { justified: written !== undefined })}>
      <span>{side.words}</span>
      {written ? (
        <>
          <em>
            {written.reason}
            <small> {[written.by, written.date].filter(Boolean).join(", ")}</small>
          </em>
          <Popconfirm title="Take the justification back?" onConfirm={() => side.justification != null && unjustify(side.justification)}>
            <Button size="small" type="text" aria-label={`Take back: ${written.reason}`}>
              ×
            </Button>
          </Popconfirm>
        </>
      ) : writing ? (
        <TextField
          label={`Why ${side.words} needs no case`}
          prose
          value=""
          placeholder="why it needs no case"
          commit={(reason) => {
            justify(point.key, side.side, reason);
            setWriting(false);
          }}
        />
      ) : (
        <span className={cx("hole-acts")}>
          {side.reach != null && (
            <Button
              size="small"
              type="link"
              aria-label={`Search a case: ${side.words}`}
              title={`Searches for a run that comes to ${side.reach}; what it finds becomes a case`}
              onClick={() => void search(side.words, side.reach ?? "")}
            >
              Search a case
            </Button>
          )}
          <Button size="small" type="link" aria-label={`Justify: ${side.words}`} onClick={() => setWriting(true)}>
            Justify
          </Button>
        </span>
      )}
    </div>
  );
}
