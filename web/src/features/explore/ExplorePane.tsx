import classNames from "classnames/bind";
import { Button, InputNumber } from "antd";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { applyRow, caseOfRow, jobOf, putStudy, shownStudy, startStudy, useStudies, type Job, type Summary } from "../../state/studies";
import { setStudy, type Study } from "../../state/studyEdits";
import { treeOfSearch } from "../../state/faultTrees";
import { format } from "../../ui/format";
import { ToleranceGroups } from "./TolerancesTable";
import { left, percent } from "./words";
import styles from "./explore.module.css";

const cx = classNames.bind(styles);

/** Beside the runs: how measures are spread, what share meets the requirements, and how far the study is. */
export default function ExplorePane() {
  const { model, resultsRevision } = useBench(useShallow((s) => ({ model: s.model, resultsRevision: s.view.resultsRevision })));
  const {
    study: chosen,
    jobs,
    summary,
    results,
    view,
  } = useStudies(useShallow((s) => ({ study: s.study, jobs: s.jobs, summary: s.summary, results: s.results, view: s.view })));
  const id = shownStudy({ study: chosen }, model);
  const study = id ? model.studies[id] : undefined;
  if (view === "tolerances")
    return (
      <aside className={cx("explore-pane")} aria-label="Inspector">
        <h2>Tolerances</h2>
        <p className="quiet">They belong to the model; every study can draw them.</p>
        <ToleranceGroups />
      </aside>
    );
  if (!id || !study) return <aside className={cx("explore-pane")} aria-label="Inspector" />;
  const job = jobOf(jobs, id);
  const stale = job !== null && Number(job.revision) < Number(resultsRevision);
  return (
    <aside className={cx("explore-pane")} aria-label="Inspector">
      <h2>{study.name}</h2>
      <p className="quiet">
        {job
          ? `model at r${job.revision}${stale ? ": it has changed since" : ""}, ${format(Number(results?.end ?? 0))} s a run`
          : "not run yet"}
      </p>
      <Progress id={id} study={study} job={job} />
      {results?.ended && !results.why && <p className="quiet">{results.ended}</p>}
      {results?.why && <Searched job={job} why={results.why} ended={results.ended} best={results.best} />}
      {summary && <Measures summary={summary} />}
      {summary && !study.search && summary.requirements.length > 0 && <Requirements id={id} study={study} summary={summary} />}
    </aside>
  );
}

function Progress({ id, study, job }: { id: string; study: Study; job: Job | null }) {
  const { busy, hasCluster } = useStudies(useShallow((s) => ({ busy: s.busy, hasCluster: s.hasCluster })));
  const isEmpty = Object.keys(study.factors).length === 0 && !study.design.hasTolerances;
  const [done, rows] = [Number(job?.done ?? 0), Number(job?.rows ?? 0)];
  const speed = job && Number(job.seconds) > 0 ? done / Number(job.seconds) : 0;
  const goes = job?.state === "running";
  return (
    <section aria-label="Progress">
      {job && (
        <>
          <div className={cx("progress-line")}>
            <span className="mono">
              {done} of {rows}
            </span>
            <span>
              {goes
                ? job.secondsLeft == null
                  ? ""
                  : `${left(Number(job.secondsLeft))} left`
                : { paused: "paused", stopped: "stopped", finished: `in ${left(Number(job.seconds))}`, running: "" }[job.state]}
            </span>
          </div>
          <i className={cx("bar")} role="progressbar" aria-label="Runs done" aria-valuemin={0} aria-valuemax={rows} aria-valuenow={done}>
            <i style={{ width: `${(100 * done) / Math.max(1, rows)}%` }} className={cx({ going: goes })} />
          </i>
          <div className={cx("progress-line", "quiet-line")}>
            <span>
              {goes ? (job.isOnCluster ? "on the cluster" : `${job.running} running`) : ""}
              {Number(job.failed) > 0 && `${goes ? ", " : ""}${job.failed} failed`}
            </span>
            <span>{done > 0 && `${format(speed, 2)} runs/s`}</span>
          </div>
        </>
      )}
      {job?.said != null && (
        <p className="quiet" role="status">
          {job.said}
        </p>
      )}
      <div className={cx("buttons")}>
        {goes ? (
          <>
            <Button type="primary" size="small" onClick={() => void putStudy(job.id, { state: "paused" })}>
              Pause
            </Button>
            <Button size="small" onClick={() => void putStudy(job.id, { state: "stopped" })}>
              Stop
            </Button>
            <Button
              size="small"
              disabled={Number(job.priority) >= 5}
              title="Gets twice the share of the machine"
              onClick={() => void putStudy(job.id, { priority: Number(job.priority) + 1 })}
            >
              Before others
            </Button>
          </>
        ) : (
          <>
            {(job?.state === "paused" || job?.state === "stopped") && done < rows && (
              <Button type="primary" size="small" onClick={() => void putStudy(job.id, { state: "running" })}>
                Go on
              </Button>
            )}
            {job?.isOnCluster && job.state === "paused" && done < rows && (
              <Button size="small" onClick={() => void putStudy(job.id, { state: "running", here: true })}>
                Go on on this machine
              </Button>
            )}
            <Button
              size="small"
              type={job?.state === "paused" || job?.state === "stopped" ? "default" : "primary"}
              loading={busy}
              disabled={isEmpty}
              onClick={() => void startStudy(id)}
            >
              {job ? "Run the study anew" : "Run the study"}
            </Button>
            {hasCluster && !study.search && (
              <Button size="small" loading={busy} disabled={isEmpty} onClick={() => void startStudy(id, true)}>
                Run on the cluster
              </Button>
            )}
            {job && !study.search && Number(job.failed) > 0 && (
              <Button size="small" onClick={() => void putStudy(job.id, { again: true })}>
                Run failed again
              </Button>
            )}
          </>
        )}
      </div>
    </section>
  );
}

function Searched({ job, why, ended, best }: { job: Job | null; why: string; ended: string | null; best: number | null }) {
  const chosen = useStudies((s) => s.study);
  const row = useStudies((s) => (best === null ? undefined : s.results?.rows[best]));
  const factors = useStudies((s) => s.results?.factors ?? null);
  const isOfFaults = useBench((s) => s.model.studies[shownStudy({ study: chosen }, s.model) ?? ""]?.search?.method === "cutsets");
  return (
    <section aria-label="Best so far">
      <h3>{job?.state === "running" ? "Best so far" : "Best found"}</h3>
      {row && factors && best !== null ? (
        <>
          <dl className={cx("best")}>
            {factors.map((f, i) => (
              <div key={f.id}>
                <dt>{f.name}</dt>
                <dd className="mono">{row.numbers[i] == null ? row.cells[i] : `${format(Number(row.numbers[i]), 5)} ${f.unit}`}</dd>
              </div>
            ))}
          </dl>
          <div className={cx("buttons")}>
            <Button size="small" onClick={() => void applyRow(best)}>
              Take these values
            </Button>
            <Button size="small" onClick={() => void caseOfRow(best)}>
              Make a case of it
            </Button>
            {isOfFaults && (
              <Button size="small" onClick={() => void treeOfSearch()}>
                Make a fault tree
              </Button>
            )}
            <Button size="small" onClick={() => useStudies.setState({ picks: new Set([best]) })}>
              Show run {best + 1}
            </Button>
          </div>
        </>
      ) : (
        <p className="quiet">no run has come to its end yet</p>
      )}
      <p className="quiet">
        {why} {job?.state === "running" ? "" : ended}
      </p>
    </section>
  );
}

function Measures({ summary }: { summary: Summary }) {
  const shown = summary.measures.filter((m) => m.spread);
  if (shown.length === 0) return null;
  return (
    <section aria-label="Measures">
      <h3>
        Measures <span>mean, 5…95 %</span>
      </h3>
      {shown.map((m) => {
        const s = m.spread as NonNullable<typeof m.spread>;
        return (
          <div key={m.id} className={cx("measure")}>
            <b>{m.name}</b>
            <span className="mono">
              {format(Number(s.mean), 4)} <i>{m.unit}</i>
            </span>
            <span className="mono quiet">
              {format(Number(s.low), 4)}…{format(Number(s.high), 4)}
            </span>
            <SmallBars counts={s.counts.map(Number)} />
          </div>
        );
      })}
    </section>
  );
}

function SmallBars({ counts }: { counts: readonly number[] }) {
  const most = Math.max(...counts, 1);
  const width = 66 / counts.length;
  return (
    <svg width="66" height="26" aria-hidden>
      {counts.map((c, i) => (
        <rect key={i} x={i * width} y={26 - (25 * c) / most} width={Math.max(0.8, width - 1)} height={(25 * c) / most} fill="#6F93AE" />
      ))}
    </svg>
  );
}

function Requirements({ id, study, summary }: { id: string; study: Study; summary: Summary }) {
  const wanted = study.wantedYield ?? null;
  // One scale for all, so that bars can be compared.
  const least = Math.min(wanted ?? 1, ...summary.requirements.map((q) => Number(q.share?.low ?? 1)));
  const from = least >= 0.8 ? 0.8 : least >= 0.5 ? 0.5 : 0;
  return (
    <section aria-label="Requirements">
      <h3>
        Requirements <span>share of runs, {100 * from}…100 %</span>
      </h3>
      {summary.requirements.map((q) => (
        <div key={q.id} className={cx("yield")}>
          <span>{q.name}</span>
          <b className="mono">{q.share ? percent(Number(q.share.share)) : "open"}</b>
          {q.share && <Share share={q.share} wanted={wanted} from={from} />}
          {q.goes && Number(q.missed) > 0 && (
            <span className="quiet">
              goes with {q.goes}, {format(Number(q.rank), 2)}
            </span>
          )}
        </div>
      ))}
      {summary.yield && (
        <p className={cx("whole")}>
          <b>{percent(Number(summary.yield.share))}</b> meet all{" "}
          <span className="quiet">
            ({percent(Number(summary.yield.low))} to {percent(Number(summary.yield.high))})
          </span>
          {wanted !== null && (
            <>
              {": "}
              {Number(summary.yield.low) >= wanted
                ? "as many as wanted"
                : Number(summary.yield.high) < wanted
                  ? "fewer than wanted"
                  : "not decided yet, more draws are needed"}
            </>
          )}
        </p>
      )}
      <label className={cx("wanted")}>
        wanted, %
        <InputNumber
          size="small"
          aria-label="Wanted share of runs that meet all, in percent"
          min={1}
          max={99.99}
          value={wanted === null ? null : 100 * wanted}
          placeholder="none"
          onBlur={(e) => {
            const value = Number(e.target.value);
            const next = e.target.value === "" || !(value > 0 && value < 100) ? undefined : value / 100;
            if (next !== (wanted ?? undefined)) setStudy(id, "Say what share is wanted", { wantedYield: next } as Partial<Study>);
          }}
        />
      </label>
    </section>
  );
}

/** A share as a bar with its interval; what is wanted as a mark. */
function Share({ share, wanted, from: low }: { share: { share: number; low: number; high: number }; wanted: number | null; from: number }) {
  const x = (v: number) => (100 * (v - low)) / (1 - low);
  const state = wanted === null ? "plain" : Number(share.low) >= wanted ? "met" : Number(share.high) < wanted ? "missed" : "caution";
  return (
    <svg className={cx("share", state)} viewBox="0 0 100 8" preserveAspectRatio="none" height="8" aria-hidden>
      <rect x="0" y="2.5" width="100" height="3" className={cx("ground")} />
      <rect x="0" y="2.5" width={x(Number(share.share))} height="3" />
      <path d={`M${x(Number(share.low))} 1V7M${x(Number(share.high))} 1V7M${x(Number(share.low))} 4H${x(Number(share.high))}`} />
      {wanted !== null && <path className={cx("mark")} d={`M${x(wanted)} 0V8`} />}
    </svg>
  );
}
