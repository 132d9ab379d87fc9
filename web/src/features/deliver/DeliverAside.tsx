import { Button, Checkbox, Segmented, Select } from "antd";
import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { levelAt } from "../../state/document";
import { handOn, removeDelivery, setDelivery, shownDelivery, useDeliveries, type Delivery, type WrittenCode } from "../../state/deliveries";
import { format } from "../../ui/format";
import { TextField } from "../../ui/TextField";
import { DeliverChecks } from "./DeliverChecks";
import styles from "./deliver.module.css";

const cx = classNames.bind(styles);

/** Beside the code: how it is made, what can be changed while it runs, its checks, and handing it on. */
export default function DeliverAside() {
  const deliveries = useBench((s) => s.model.deliveries);
  const { chosen, written, views } = useDeliveries(useShallow((s) => ({ chosen: s.chosen, written: s.written, views: s.views })));
  const id = shownDelivery(deliveries, chosen);
  const node = id === null ? undefined : deliveries[id];
  if (id === null || !node) return <aside className={cx("aside")} aria-label="Inspector" />;
  const code = written?.of === id ? written.code : null;
  const view = views.find((v) => v.id === id);
  return (
    <aside className={cx("aside")} aria-label="Inspector">
      <TextField label="Name of the delivery" title value={node.name} commit={(name) => setDelivery(id, "Rename a delivery", { name })} />
      <p className="quiet">
        {node.part === ""
          ? "The whole model: named signals come out"
          : view?.part
            ? `From ${view.part.replaceAll(".", " / ")}`
            : "Its part is not in the model any more."}
      </p>
      <Options key={id} id={id} node={node} />
      {code && <Tunable id={id} node={node} code={code} />}
      {code && <Unchecked code={code} />}
      {!node.isSolvedOutside && <DeliverChecks id={id} code={code} />}
      <HandOn id={id} node={node} isReady={code !== null} />
    </aside>
  );
}

function Options({ id, node }: { id: string; node: Delivery }) {
  const put = (values: Partial<Delivery>) => setDelivery(id, "Change how code is made", values);
  const outside = node.kind === "exchangeUnit" && node.isSolvedOutside;
  return (
    <section aria-label="Options">
      <h3>Options</h3>
      <Choice
        name="As"
        value={node.kind}
        options={{ code: "C code", exchangeUnit: "exchange unit" }}
        onChange={(kind) => put({ kind, version: kind === "code" ? undefined : "3.0", isSolvedOutside: false })}
      />
      {node.kind === "exchangeUnit" && (
        <Choice
          name="Version of FMI"
          value={node.version ?? "3.0"}
          options={{ "2.0": "2.0", "3.0": "3.0" }}
          onChange={(version) => put({ version })}
        />
      )}
      {node.kind === "exchangeUnit" && (
        <Choice
          name="Integrated"
          value={node.isSolvedOutside ? "outside" : "inside"}
          options={{ inside: "by itself", outside: "by its importer" }}
          onChange={(where) => put({ isSolvedOutside: where === "outside", isFloat: where === "outside" ? false : node.isFloat })}
        />
      )}
      <Alternative id={id} node={node} />
      {outside ? (
        <p className="quiet">Model exchange: whoever has it integrates its states and finds its events.</p>
      ) : (
        <Steps id={id} node={node} />
      )}
    </section>
  );
}

/** How it goes from step to step. */
function Steps({ id, node }: { id: string; node: Delivery }) {
  const put = (values: Partial<Delivery>) => setDelivery(id, "Change how code is made", values);
  return (
    <>
      <div className={cx("row")}>
        <label htmlFor={`${id}-step`}>Step</label>
        <TextField id={`${id}-step`} label="Step of the code" value={node.step} commit={(step) => put({ step })} />
      </div>
      <Choice
        name="Integration"
        value={node.method}
        options={{ euler: "Euler", heun: "Heun", rk4: "4th order" }}
        onChange={(method) => put({ method })}
      />
      <Choice
        name="Numbers"
        value={node.isFloat ? "float" : "double"}
        options={{ double: "double", float: "float" }}
        onChange={(numbers) => put({ isFloat: numbers === "float" })}
      />
    </>
  );
}

/** Which realisation of a slot is meant; the one that is in without a choice. */
function Alternative({ id, node }: { id: string; node: Delivery }) {
  const slot = useBench((s) => levelAt(s.model, node.part)?.diagram);
  const choices = (slot?.slot && slot.parameters[slot.slot]?.choices) || [];
  if (choices.length === 0 && !node.alternative) return null;
  const names = [...new Set([...choices.map((c) => c.name), ...(node.alternative ? [node.alternative] : [])])];
  return (
    <div className={cx("row")}>
      <label htmlFor={`${id}-alternative`}>Alternative</label>
      <Select
        id={`${id}-alternative`}
        size="small"
        aria-label="Alternative of the slot"
        popupMatchSelectWidth={false}
        value={node.alternative ?? ""}
        options={[{ value: "", label: "the one that is in" }, ...names.map((n) => ({ value: n, label: n }))]}
        onChange={(n) => setDelivery(id, "Choose the alternative that is handed on", { alternative: n || undefined })}
      />
    </div>
  );
}

interface ChoiceProps<T extends string> {
  name: string;
  value: T;
  /** What stands for each. */
  options: Record<T, string>;
  onChange: (value: T) => void;
}

const Choice = <T extends string>({ name, value, options, onChange }: ChoiceProps<T>) => (
  <div className={cx("row")}>
    <span>{name}</span>
    <Segmented
      size="small"
      aria-label={name}
      value={value}
      options={(Object.keys(options) as T[]).map((o) => ({ value: o, label: options[o] }))}
      onChange={onChange}
    />
  </div>
);

/** What ends a run of the model, or changes it, and what the code does not look at. */
function Unchecked({ code }: { code: WrittenCode }) {
  if (code.unchecked.length === 0) return null;
  return (
    <section aria-label="The code does not look at">
      <h3>
        The code does not look at <span>{code.unchecked.length}</span>
      </h3>
      <ul className={cx("unchecked")}>
        {code.unchecked.map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
    </section>
  );
}

function Tunable({ id, node, code }: { id: string; node: Delivery; code: WrittenCode }) {
  if (code.parameters.length === 0) return null;
  const on = new Set(code.tunable);
  const put = (name: string, isOn: boolean) => {
    const next = code.parameters.map((p) => p.name).filter((p) => (p === name ? isOn : on.has(p)));
    setDelivery(id, "Change what can be tuned", { tunable: next });
  };
  return (
    <section aria-label="Can be changed while it runs">
      <h3>
        Can be changed while it runs{" "}
        <span>
          {on.size} of {code.parameters.length}
        </span>
      </h3>
      {code.parameters.map((p) => (
        <div key={p.name} className={cx("row", "parameter")} title={p.description}>
          <Checkbox checked={on.has(p.name)} onChange={(e) => put(p.name, e.target.checked)}>
            <code>{p.name}</code> {code.idle.includes(p.name) && <span className="quiet">not read</span>}
          </Checkbox>
          <span className="mono">
            {format(Number(p.value))} <span className="quiet">{p.unit}</span>
          </span>
        </div>
      ))}
      {node.tunable && (
        <Button size="small" type="link" onClick={() => setDelivery(id, "Change what can be tuned", { tunable: undefined })}>
          All that are given as numbers
        </Button>
      )}
    </section>
  );
}

function HandOn({ id, node, isReady }: { id: string; node: Delivery; isReady: boolean }) {
  const revision = useBench((s) => s.revision);
  const deliver = () => {
    const address = handOn(id);
    if (!address) return;
    const link = window.document.createElement("a");
    link.href = address;
    link.download = "";
    link.click();
  };
  return (
    <section aria-label="Hand on" className={cx("hand-on")}>
      <Button type="primary" block disabled={!isReady} onClick={deliver}>
        Deliver as r{Number(revision) + 1}
      </Button>
      <p className="quiet">
        {node.kind === "code"
          ? "One archive: the code, and the table of lines and parts."
          : "One archive by the open standard FMI: a program for Linux, its sources, and what its variables are."}{" "}
        Marked in the model as delivered
        {node.delivered ? `; last as r${node.delivered.revision}, ${new Date(node.delivered.at).toLocaleDateString("en-GB")}` : ""}.
      </p>
      <Button size="small" onClick={() => removeDelivery(id)}>
        Take out of the list
      </Button>
    </section>
  );
}
