import { Button, Spin } from "antd";
import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import { checkDelivery, lookAt, showFile, stopChecking, useDeliveries, type DeliveryCheck, type WrittenCode } from "../../state/deliveries";
import { format } from "../../ui/format";
import styles from "./deliver.module.css";

const cx = classNames.bind(styles);

type Mark = "met" | "missed" | "open";

const nearness: Record<string, Mark> = { near: "met", apart: "open", far: "missed" };

/** What was proved of the code: by the compiler, by rules, by running it beside the model. */
export function DeliverChecks({ id, code }: { id: string; code: WrittenCode | null }) {
  const { check, checking } = useDeliveries(useShallow((s) => ({ check: s.checks.get(id), checking: s.checking })));
  const isStale = check !== undefined && code !== null && check.hash !== code.hash;
  return (
    <section aria-label="Checks">
      <h3>
        Checks <span>{!check ? "not run yet" : isStale ? "of the code before" : ""}</span>
      </h3>
      {check && <Results check={check} name={code?.files.find((f) => f.name.endsWith(".c"))?.name} isStale={isStale} />}
      {checking === id ? (
        <p className={cx("busy")} role="status">
          <Spin size="small" /> Compiling, running, comparing …{" "}
          <Button size="small" onClick={stopChecking}>
            Stop
          </Button>
        </p>
      ) : (
        <Button size="small" disabled={!code || checking !== null} onClick={() => void checkDelivery(id)}>
          {check ? "Check again" : "Check the code"}
        </Button>
      )}
    </section>
  );
}

function Results({ check, name, isStale }: { check: DeliveryCheck; name: string | undefined; isStale: boolean }) {
  const warnings = Number(check.warnings);
  const ran = check.cases.filter((c) => c.outcome !== "notRun");
  const same = ran.filter((c) => c.outcome === "same").length;
  const open = (check.open ?? []).map(Number);
  const go = (line: number) => {
    if (name) showFile(name);
    lookAt(line);
  };
  return (
    <div className={cx("checks", { stale: isStale })}>
      <Row mark={warnings === 0 ? "met" : "missed"} name="compiles, warnings" value={`${warnings}`} />
      <Row
        mark={check.rules == null ? "open" : check.rules.length === 0 ? "met" : "missed"}
        name="rules for safe C, findings"
        value={check.rules == null ? "no checker here" : check.rules.length === 0 ? "0" : check.rules.join(", ")}
      />
      <Row
        mark={check.drawn.first ? "missed" : "met"}
        name="as the model, drawn inputs"
        value={check.drawn.first ? `parts at step ${check.drawn.first.step}` : `${format(Number(check.drawn.steps))} steps`}
      />
      {check.run && (
        <>
          <Row
            mark={nearness[check.run.nearness ?? "far"]}
            name="beside the run, apart by"
            value={check.run.part != null ? `${format(100 * Number(check.run.part), 2)} %` : "no number"}
          />
          {check.run.nearness !== "near" && (
            <p className={cx("case")}>
              {check.run.output} at {format(Number(check.run.time))} s: a shorter step, or another integration, comes nearer.
            </p>
          )}
          {!check.run.isWhole && <p className={cx("case")}>looked at until {format(Number(check.run.end))} s</p>}
        </>
      )}
      <Row
        mark={ran.length === 0 ? "open" : same === ran.length ? "met" : "missed"}
        name="as the model, cases"
        value={check.cases.length === 0 ? "no cases" : `${same} of ${check.cases.length}`}
      />
      {check.cases
        .filter((c) => c.message)
        .map((c) => (
          <p key={c.id} className={cx("case", c.outcome === "apart" ? "missed" : "")}>
            <b>{c.name}</b> {c.outcome === "notRun" ? `not run: ${c.message}` : c.message}
          </p>
        ))}
      {Number(check.troubles) > 0 && (
        <p className={cx("case", "missed")}>
          Loops were not solved or decisions did not settle in {format(Number(check.troubles))} steps, in the model's steps as in the
          code's.
        </p>
      )}
      <Row
        mark={open.length === 0 ? "met" : "open"}
        name={check.isByCases ? "reached of the code" : "reached by drawn inputs"}
        value={`${format(100 * Number(check.reached), 3)} %`}
      />
      {open.length > 0 && (
        <p className={cx("case")}>
          open at line{" "}
          {open.slice(0, 12).map((l, i) => (
            <span key={l}>
              {i > 0 && ", "}
              <button type="button" className={cx("to-line")} onClick={() => go(l)}>
                {l}
              </button>
            </span>
          ))}
          {open.length > 12 && ` and ${open.length - 12} more`}
        </p>
      )}
      <Row name="instructions and constants" value={`${format(Number(check.size.code))} B`} />
      <Row name="stack, at most" value={`${format(Number(check.size.stack))} B`} />
    </div>
  );
}

const Row = ({ mark, name, value }: { mark?: Mark; name: string; value: string }) => (
  <div className={cx("row", "check", mark)}>
    <span>
      <i aria-hidden="true" />
      {name}
    </span>
    <span className="mono">{value}</span>
  </div>
);
