import classNames from "classnames/bind";
import { Button, Dropdown, type MenuProps } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { chooseStudy, jobOf, shownStudy, useStudies, type Job } from "../../state/studies";
import { addStudy, copyStudy, removeStudy, setStudy, studiesOf, type Purpose, type Study } from "../../state/studyEdits";
import { TextField } from "../../ui/TextField";
import { left } from "./words";
import styles from "./explore.module.css";

const cx = classNames.bind(styles);

const purposes: readonly { purpose: Purpose; label: string }[] = [
  { purpose: "sweep", label: "Go through values" },
  { purpose: "tolerances", label: "Draw tolerances" },
  { purpose: "best", label: "Find the best values" },
  { purpose: "worst", label: "Find the worst case" },
];

/** What a new study can be for. */
export const newStudies = (): NonNullable<MenuProps["items"]> =>
  purposes.map((p) => ({
    key: p.purpose,
    label: p.label,
    onClick: () => {
      chooseStudy(addStudy(p.purpose));
      useStudies.setState({ view: p.purpose === "sweep" ? "runs" : "design" });
    },
  }));

/** The studies of the model, each with how far it is. */
export function StudiesPane() {
  const studies = useBench((s) => s.model.studies);
  const { study, jobs, view } = useStudies(useShallow((s) => ({ study: s.study, jobs: s.jobs, view: s.view })));
  const shown = shownStudy({ study });
  return (
    <nav className={cx("studies")} aria-label="Studies">
      <header className={cx("pane-head")}>
        <h2>Studies</h2>
      </header>
      <div className={cx("studies-body")}>
        {studiesOf(studies).map(([id, s]) => (
          <StudyBox key={id} id={id} study={s} job={jobOf(jobs, id)} on={id === shown && view !== "tolerances"} />
        ))}
        <div className={cx("more")}>
          <Dropdown trigger={["click"]} menu={{ items: newStudies() }}>
            <Button size="small">New study</Button>
          </Dropdown>
        </div>
        <TolerancesEntry />
      </div>
    </nav>
  );
}

/** The tolerances of the model stand with its studies, as these draw them. */
function TolerancesEntry() {
  const count = useBench((s) => Object.keys(s.model.tolerances).length);
  const on = useStudies((s) => s.view === "tolerances");
  return (
    <div className={cx("study", "of-model", { on })}>
      <button type="button" aria-pressed={on} onClick={() => useStudies.setState({ view: "tolerances" })}>
        <b>Model tolerances</b>
        <span>{count === 0 ? "none yet" : `of ${count} ${count === 1 ? "value" : "values"}`}</span>
      </button>
    </div>
  );
}

function StudyBox({ id, study, job, on }: { id: string; study: Study; job: Job | null; on: boolean }) {
  const [renaming, setRenaming] = useState(false);
  const done = job ? Number(job.done) / Math.max(1, Number(job.rows)) : 0;
  const told = !job
    ? "not run yet"
    : job.state === "finished"
      ? `${job.rows} ${Number(job.rows) === 1 ? "run" : "runs"}${Number(job.failed) > 0 ? `, ${job.failed} failed` : ""}`
      : job.state === "running"
        ? `${job.done} of ${job.rows}${job.secondsLeft == null ? "" : `, ${left(Number(job.secondsLeft))} left`}`
        : `${job.done} of ${job.rows}, ${job.state}`;
  return (
    <div className={cx("study", { on })}>
      {renaming ? (
        <TextField
          label="Name of the study"
          prose
          value={study.name}
          commit={(name) => {
            setStudy(id, "Rename a study", { name });
            setRenaming(false);
          }}
        />
      ) : (
        <button
          type="button"
          aria-pressed={on}
          onClick={() => chooseStudy(id)}
          onDoubleClick={() => setRenaming(true)}
          onKeyDown={(e) => e.key === "F2" && setRenaming(true)}
        >
          <b>{study.name}</b>
          <span>{told}</span>
          <i className={cx("bar")} aria-hidden>
            <i style={{ width: `${100 * done}%` }} className={cx({ going: job?.state === "running" })} />
          </i>
        </button>
      )}
      <Dropdown
        trigger={["click"]}
        menu={{
          items: [
            { key: "name", label: "Rename", onClick: () => setRenaming(true) },
            { key: "copy", label: "Copy", onClick: () => chooseStudy(copyStudy(id)) },
            { key: "remove", label: "Remove", onClick: () => removeStudy(id) },
          ],
        }}
      >
        <Button type="text" size="small" aria-label={`What can be done with ${study.name}`}>
          ⋯
        </Button>
      </Dropdown>
    </div>
  );
}
