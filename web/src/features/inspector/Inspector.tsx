import classNames from "classnames/bind";
import { Button, Input, Switch } from "antd";
import { Fragment, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type CatalogPart } from "../../api/client";
import { told } from "../../ui/format";
import { goToModel } from "../../ui/routes";
import { Equations } from "../../ui/Equations";
import { MathText } from "../../ui/Math";
import { Prose } from "../../ui/Prose";
import { definitionOf, referenceOf } from "../../state/document";
import { act, rename, setSignal, toggleProbe } from "../../state/edits";
import { edit, goToPart, here, openLevel, restructure } from "../../state/model";
import { drawByName } from "../../state/tidying";
import { keepInPackage, takeIn } from "../../state/ownParts";
import { usesOf } from "../../state/selection";
import { openPart, setStage, useBench } from "../../state/bench";
import { FindingsList } from "../../ui/FindingsList";
import { ChartPanel } from "./written/ChartPanel";
import { FormPanel } from "./written/FormPanel";
import { ValvePanel } from "./written/ValvePanel";
import { CaptionPanel } from "./CaptionPanel";
import { Overview } from "./Overview";
import { SeveralPanel } from "./SeveralPanel";
import { PortList } from "./PortList";
import { BundlePanel } from "./BundlePanel";
import { DataSheetPanel } from "./DataSheetPanel";
import { OptionPanel } from "./OptionPanel";
import { ParameterRow } from "./ParameterRow";
import { SignalFaults } from "./SignalFaults";
import { DerivedFigures, ResultFigures } from "./Figures";
import { PartPicture } from "./PartPicture";
import { PulseTestPanel } from "./PulseTestPanel";
import { SizingPanel } from "./SizingPanel";
import { TwinPanel } from "./TwinPanel";
import { ShapePanel } from "./ShapePanel";
import { SlotPanel } from "./SlotPanel";
import { TablePanel } from "./TablePanel";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** What is selected: a part, a wire, or the model itself. */
export function Inspector() {
  const { diagram, selection, form } = useBench(
    useShallow((s) => ({
      diagram: s.diagram,
      selection: s.selection,
      form: s.stage === "build" ? (s.chart ?? s.table ?? s.valve)?.kind : undefined,
    })),
  );
  const only = selection.size === 1 ? [...selection][0] : undefined;
  if (form)
    return (
      <aside className={cx("panel")} aria-label="Inspector" onKeyDown={toDiagram}>
        {form === "chart" ? <ChartPanel /> : form === "valve" ? <ValvePanel /> : <FormPanel />}
      </aside>
    );
  return (
    <aside className={cx("panel")} aria-label="Inspector" onKeyDown={toDiagram}>
      {only && diagram.parts[only] ? (
        <PartPanel key={only} id={only} />
      ) : only && diagram.wires[only] ? (
        <WirePanel key={only} id={only} />
      ) : only && (diagram.notes[only] || diagram.areas[only]) ? (
        <CaptionPanel key={only} id={only} />
      ) : selection.size > 1 ? (
        <SeveralPanel />
      ) : (
        <Overview />
      )}
    </aside>
  );
}

/** Escape leads back to the diagram. */
function toDiagram(e: React.KeyboardEvent<HTMLElement>): void {
  if (e.key !== "Escape" || e.defaultPrevented || !e.currentTarget.contains(e.target as Node)) return;
  window.document.querySelector<HTMLElement>("[role=application]")?.focus({ preventScroll: true });
}

/** Makes a small model that shows the part at work, and goes there. */
async function openExample(part: string): Promise<void> {
  try {
    const body = { name: null, example: null, document: null, text: null, part };
    const { id } = await ask(api.POST("/api/models", { body }));
    goToModel(id);
  } catch (e) {
    useBench.setState({ notice: { kind: "error", text: (e as Error).message } });
  }
}

/** Whether a part's own definition is edited in a form of its own: a chart, a table, a valve. */
function formOf(type: string): boolean {
  const own = definitionOf(type);
  const kind = own === null ? undefined : useBench.getState().model.definitions[own]?.kind;
  return kind !== undefined && kind !== "diagram" && kind !== "text";
}

/** Parameters under their headings, in the order in which these come first; those without one before. */
function grouped(parameters: CatalogPart["parameters"]): [string, CatalogPart["parameters"]][] {
  const groups = new Map<string, CatalogPart["parameters"]>([["", []]]);
  for (const p of parameters) groups.set(p.group ?? "", [...(groups.get(p.group ?? "") ?? []), p]);
  return [...groups];
}

function PartPanel({ id }: { id: string }) {
  const { diagram, view, catalog } = useBench(useShallow((s) => ({ diagram: s.diagram, view: s.view, catalog: s.catalog })));
  const [help, setHelp] = useState(false);
  const node = diagram.parts[id];
  const part = node && catalog.get(node.type);
  if (!node) return null;
  const partView = view.parts[id];
  const findings = view.findings.filter((f) => f.part === referenceOf(view.level, id));
  const form = formOf(node.type);
  const output = partView?.ports.filter((p) => !p.isInput && !p.domain && !p.elements) ?? [];
  return (
    <>
      <h2 className="unseen">{node.name}</h2>
      <Input
        className={cx("title")}
        variant="borderless"
        size="small"
        key={node.name}
        defaultValue={node.name}
        aria-label="Name of the part"
        onBlur={(e) => e.target.value.trim() && e.target.value.trim() !== node.name && rename(id, e.target.value.trim())}
        onKeyDown={(e) => {
          if (e.key === "Enter") e.currentTarget.blur();
          if (e.key === "Escape") {
            e.currentTarget.value = node.name;
            e.currentTarget.blur();
          }
        }}
      />
      <p className={cx("sub")}>
        {part ? (part.help ?? part.title) : node.type}
        {partView?.opens && usesOf(node.type) > 1 && ` · one definition, used ${usesOf(node.type)} times`}
      </p>
      {part && !partView?.opens && (part.formula || (part.equations.length > 0 && part.equations.length <= 2)) && (
        <Equations lines={part.formula ? [part.formula] : part.equations} />
      )}
      {part?.traits.preview && <PartPicture id={id} name={node.name} />}
      {partView && <ResultFigures results={partView.results ?? []} />}
      {grouped(part?.parameters.filter((p) => p.type !== "BundleType" && (partView?.parameters[p.name]?.shown ?? true)) ?? []).map(
        ([group, parameters]) => (
          <Fragment key={group}>
            {group && <h3>{group}</h3>}
            {parameters.map((p) => (
              <ParameterRow
                key={p.name}
                partId={id}
                parameter={p}
                text={node.parameters[p.name]}
                view={partView?.parameters[p.name]}
                problem={findings.find((f) => f.item === p.name && f.severity === "error")?.message ?? null}
                known={partView?.members ?? null}
              />
            ))}
          </Fragment>
        ),
      )}
      {partView && <DerivedFigures derived={partView.derived ?? []} />}
      {part && part.traits.sizes.length > 0 && <SizingPanel key={`size-${id}`} id={id} part={part} />}
      {partView?.isValve && <TwinPanel key={`twin-${id}`} id={id} />}
      {partView?.bundle && <BundlePanel part={id} view={partView} bundle={partView.bundle} />}
      {partView && part && part.group !== "Ports" && <OptionPanel id={id} view={partView} findings={findings} />}
      {partView?.slot && <SlotPanel part={id} slot={partView.slot} />}
      {part?.traits.dataSheet && <DataSheetPanel id={id} kind={part.traits.dataSheet} />}
      {part?.traits.pulseTest && <PulseTestPanel id={id} part={part} />}
      {part?.traits.shapes && <ShapePanel id={id} stands={part.traits.shapes} />}
      {part?.plot && (partView?.parameters[part.plot[0] ?? ""]?.shown ?? true) && (
        <TablePanel part={id} names={part.plot} curve={partView?.curve} />
      )}
      <div className={cx("buttons")}>
        {partView?.actions.map((a) => (
          <Button key={a.label} size="small" onClick={() => act(a)}>
            {a.label}
          </Button>
        ))}
        {part?.traits.tunable && (
          <Button
            size="small"
            onClick={() => {
              useBench.setState({ tunePart: id });
              setStage("tune");
            }}
          >
            Tune this loop
          </Button>
        )}
        <Button size="small" aria-expanded={help} onClick={() => setHelp(!help)}>
          Help
        </Button>
        {form && (
          <Button size="small" type="primary" onClick={() => openLevel(id)}>
            Open
          </Button>
        )}
        {partView?.opens && (
          <>
            <Button size="small" type="primary" onClick={() => openLevel(id)}>
              Open
            </Button>
            {usesOf(node.type) > 1 && (
              <Button size="small" onClick={() => void restructure({ kind: "makeIndependent", part: id })}>
                Make independent
              </Button>
            )}
            {!partView.slot && (
              <Button size="small" onClick={() => void restructure({ kind: "dissolve", part: id })}>
                Dissolve
              </Button>
            )}
          </>
        )}
        {partView?.opens && (
          <Button size="small" onClick={() => void keepInPackage(node.type, false)}>
            Keep in my package
          </Button>
        )}
        {part?.isDiagram && !partView?.opens && (
          <Button size="small" onClick={() => void takeIn(id)}>
            Make it a subsystem of this model
          </Button>
        )}
        {partView?.shape !== "bar" && !partView?.opens && (
          <Button size="small" onClick={() => openPart(node.type, id)}>
            Open text
          </Button>
        )}
        {output.map((p) => (
          <Button key={p.name} size="small" onClick={() => toggleProbe(`${id}.${p.name}`)}>
            {diagram.signals[`${id}.${p.name}`]?.probe !== undefined ? "Stop plotting" : "Plot"} {output.length > 1 ? p.name : ""}
          </Button>
        ))}
      </div>
      {partView?.opens && <PortList part={id} view={partView} />}
      {findings.length > 0 && <FindingsList findings={findings} onShow={(part) => void goToPart(part)} onFix={act} />}
      {help && part && (
        <section className={cx("help")}>
          <p>
            <Prose text={part.article ?? part.help ?? ""} />
          </p>
          {!view.ownParts.some((p) => p.name === part.name) && (
            <Button size="small" onClick={() => void openExample(part.name)}>
              Open an example
            </Button>
          )}
          <h3>Equations</h3>
          {part.equations.map((e) => (
            <Equations key={e} lines={[e]} />
          ))}
          <h3>Ports</h3>
          <ul>
            {part.ports.map((p) => (
              <li key={p.name}>
                <MathText tex={p.name} /> {p.description}
                {p.optional ? ` (shown when “${p.optional}” is on)` : ""}
              </li>
            ))}
          </ul>
          {part.validity && (
            <>
              <h3>Holds for</h3>
              <p>{part.validity}</p>
            </>
          )}
          <h3>Limits of parameters</h3>
          <ul>
            {part.parameters
              .filter((p) => p.minimum || p.maximum)
              .map((p) => (
                <li key={p.name}>
                  {p.name}: {p.minimum ? `at least ${p.minimum}` : ""} {p.maximum ? `at most ${p.maximum}` : ""} {p.unitText}
                </li>
              ))}
          </ul>
        </section>
      )}
    </>
  );
}

/** What is known of one signal: name, unit, plotted or not. */
function SignalRows({ signalKey: key, title }: { signalKey: string; title: string | null }) {
  const { diagram, view, time, values } = useBench(
    useShallow((s) => ({ diagram: s.diagram, view: s.view, time: s.time, values: s.values })),
  );
  const signal = diagram.signals[key];
  const info = view.signals[key];
  const value = time === null ? undefined : values.get(key);
  const what = title ? title.toLowerCase() : "signal";
  return (
    <>
      {title && <h3 className={cx("signal-title")}>{title}</h3>}
      {value !== undefined && (
        <p className={cx("sub", "mono")}>
          {told(value, info)} {info?.unit} at the time bar
        </p>
      )}
      <div className={cx("row", "wide")}>
        <label htmlFor={`name-${key}`}>Name</label>
        <TextField
          id={`name-${key}`}
          label={`Name of the ${what}`}
          value={signal?.name ?? ""}
          placeholder={title ? (info?.path ?? "not named") : "not named"}
          commit={(name) => setSignal(key, { name })}
          onEmpty={() => setSignal(key, { name: undefined })}
        />
      </div>
      <div className={cx("row", "wide")}>
        <label htmlFor={`unit-${key}`}>Unit shown</label>
        <TextField
          id={`unit-${key}`}
          label={`Unit of the ${what}`}
          value={signal?.unit ?? ""}
          placeholder={info?.unit || "none"}
          commit={(unit) => setSignal(key, { unit })}
          onEmpty={() => setSignal(key, { unit: undefined })}
        />
      </div>
      <div className={cx("row", "wide")}>
        <label htmlFor={`plot-${key}`}>Plot</label>
        <Switch
          id={`plot-${key}`}
          size="small"
          aria-label={title ? `Plot the ${what}` : "Plot this signal"}
          checked={signal?.probe !== undefined}
          onChange={() => toggleProbe(key)}
        />
      </div>
      {!title && <SignalFaults signalKey={key} name={signal?.name ?? info?.label ?? key} />}
    </>
  );
}

/** The signals that one wire carries: value and whether each is plotted. */
function ElementRows({ keys }: { keys: readonly string[] }) {
  const { diagram, view, time, values } = useBench(
    useShallow((s) => ({ diagram: s.diagram, view: s.view, time: s.time, values: s.values })),
  );
  if (keys.length === 0) return <p className={cx("sub")}>Nothing comes in yet.</p>;
  return (
    <ul className={cx("elements")} aria-label="Signals in this wire">
      {keys.map((key) => {
        const info = view.signals[key];
        const value = time === null ? undefined : values.get(key);
        const name = key.slice(key.indexOf(".") + 1);
        return (
          <li key={key}>
            <span>{name}</span>
            <span className="mono">
              {told(value, info)} <span className="quiet">{info?.unit}</span>
            </span>
            <Switch
              size="small"
              aria-label={`Plot ${name}`}
              checked={diagram.signals[key]?.probe !== undefined}
              onChange={() => toggleProbe(key)}
            />
          </li>
        );
      })}
    </ul>
  );
}

function WirePanel({ id }: { id: string }) {
  const { diagram, view } = useBench(useShallow((s) => ({ diagram: s.diagram, view: s.view })));
  const wire = diagram.wires[id];
  if (!wire) return null;
  const port = view.parts[wire.from.part]?.ports.find((p) => p.name === wire.from.port);
  const own = `${wire.from.part}.${wire.from.port}`;
  const [from, to] = [diagram.parts[wire.from.part]?.name, diagram.parts[wire.to.part]?.name];
  return (
    <>
      <h2>
        {port?.domain
          ? `${port.domain} connection${port.elements ? ` of ${port.elements.length} cells` : ""}`
          : port?.kind === "bundle"
            ? "Bundle"
            : port?.kind === "vector"
              ? `Vector of ${port.elements?.length ?? 0}`
              : (diagram.signals[own]?.name ?? view.signals[own]?.path ?? "Signal")}
      </h2>
      <p className={cx("sub")}>{port?.domain ? `Between ${from} and ${to}` : `From ${from} to ${to}`}</p>
      {port?.potential && port.flow ? (
        <>
          <SignalRows signalKey={port.potential} title="Potential" />
          <SignalRows signalKey={port.flow} title={`Flow into ${from}`} />
        </>
      ) : port?.elements ? (
        <ElementRows keys={port.elements} />
      ) : (
        <SignalRows signalKey={own} title={null} />
      )}
      <div className={cx("buttons")}>
        {wire.bends.length > 0 && (
          <Button size="small" onClick={() => edit("Straighten", [{ op: "replace", path: here("wires", id, "bends"), value: [] }])}>
            Route automatically
          </Button>
        )}
        <Button size="small" onClick={() => drawByName([id], !wire.byName)}>
          {wire.byName ? "Draw as a line" : "Draw by name"}
        </Button>
        <Button size="small" onClick={() => edit("Delete wire", [{ op: "remove", path: here("wires", id) }])}>
          Delete wire
        </Button>
      </div>
    </>
  );
}
