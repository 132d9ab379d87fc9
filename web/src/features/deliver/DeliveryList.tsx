import { Button } from "antd";
import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { chooseDelivery, inOrder, showFile, useDeliveries, type Delivery, type DeliveryView } from "../../state/deliveries";
import { runOnTarget, takers } from "../../state/targets";
import { AddDelivery } from "./AddDelivery";
import styles from "./deliver.module.css";

const cx = classNames.bind(styles);

/** What is handed on, how each stands to the model, and the files of the one that is shown. */
export function DeliveryList({ shown }: { shown: string | null }) {
  const deliveries = useBench((s) => s.model.deliveries);
  const { views, written, file } = useDeliveries(useShallow((s) => ({ views: s.views, written: s.written, file: s.file })));
  const files = written && written.of === shown ? written.code.files : [];
  const current = file ?? files.find((f) => f.name.endsWith(".c"))?.name;
  return (
    <nav className={cx("list")} aria-label="What is handed on">
      <div className={cx("list-head")}>
        <b>To deliver</b>
        <span>{Object.keys(deliveries).length}</span>
      </div>
      {inOrder(deliveries).map(([id, node]) => (
        <button key={id} type="button" className={cx("entry")} aria-pressed={id === shown} onClick={() => chooseDelivery(id)}>
          <b>{node.name}</b>
          <span className={cx("kind")}>
            {node.kind === "code" ? "C code" : `exchange unit, FMI ${node.version ?? "3.0"}`},{" "}
            {node.isSolvedOutside ? "model exchange" : node.step}
          </span>
          <State node={node} view={views.find((v) => v.id === id)} />
        </button>
      ))}
      {files.length > 0 && (
        <section aria-label="Files of this one" className={cx("files")}>
          <h3>Files of this one</h3>
          {files.map((f) => (
            <button key={f.name} type="button" className={cx("file")} aria-pressed={f.name === current} onClick={() => showFile(f.name)}>
              <span>{f.name}</span>
              <span>{f.text.split("\n").length - 1} lines</span>
            </button>
          ))}
        </section>
      )}
      {shown && deliveries[shown]?.kind === "code" && deliveries[shown].part !== "" && <Targets shown={shown} />}
      {shown && deliveries[shown] && <Command node={deliveries[shown]} view={views.find((v) => v.id === shown)} />}
      {shown && (
        <div className={cx("list-foot")}>
          <AddDelivery />
        </div>
      )}
    </nav>
  );
}

function State({ node, view }: { node: Delivery; view: DeliveryView | undefined }) {
  const state = view?.state ?? (node.delivered ? "" : "new");
  const words = {
    new: "not handed on yet",
    current: `up to date, r${node.delivered?.revision}`,
    older: `older: r${node.delivered?.revision}, changed since`,
    broken: view?.message ?? "cannot be made",
    "": "…",
  }[state];
  return (
    <span className={cx("state", state)}>
      <i aria-hidden="true" />
      {words}
    </span>
  );
}

/** Where the code runs with the plant of the model. */
function Targets({ shown }: { shown: string }) {
  const deliveries = useBench((s) => s.model.deliveries);
  const others = takers(deliveries, shown).slice(1);
  return (
    <section aria-label="Targets" className={cx("files")}>
      <h3>Run on a target</h3>
      <Button size="small" onClick={() => void runOnTarget(shown)} title="The code has the part's place in a run of the model">
        This machine
      </Button>
      <Button
        size="small"
        onClick={() => void runOnTarget(shown, "board")}
        title="A Cortex-M4 with 32 bits, simulated: instructions are counted, the same in every run"
      >
        Simulated board
      </Button>
      {others.length > 0 && <p className="quiet">Can be handed over to {others.map((o) => deliveries[o]?.name).join(", ")}.</p>}
    </section>
  );
}

/** How a script does the same. */
function Command({ node, view }: { node: Delivery; view: DeliveryView | undefined }) {
  const model = useBench((s) => s.model.definitions[s.model.root]?.name ?? "");
  if (!view?.part && node.part !== "") return null;
  const isCode = node.kind === "code";
  const words = [
    isCode ? "anchor-bend code" : "anchor-bend unit export",
    quoted(`${model}.json`),
    ...(view?.part ? [`--part ${quoted(view.part)}`] : []),
    ...(node.alternative ? [`--alternative ${quoted(node.alternative)}`] : []),
    ...(isCode ? [] : [`--version ${node.version ?? "3.0"}`]),
    ...(node.isSolvedOutside ? ["--kind model-exchange"] : [`--step ${quoted(node.step)}`]),
    ...(node.isSolvedOutside || node.method === (isCode ? "euler" : "rk4") ? [] : [`--method ${node.method}`]),
    ...(node.isFloat ? ["--float"] : []),
    ...(node.tunable ? [`--tunable ${quoted(node.tunable.join(","))}`] : []),
    isCode ? "--out code --check" : "--out unit.fmu",
  ];
  return (
    <section aria-label="The same by command" className={cx("files")}>
      <h3>The same by command</h3>
      <code className={cx("command")}>{words.join(" ")}</code>
    </section>
  );
}

const quoted = (text: string) => (/^[\w./-]+$/.test(text) ? text : `"${text.replaceAll('"', '\\"')}"`);
