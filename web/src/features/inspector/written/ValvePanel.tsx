import classNames from "classnames/bind";
import { Button, Segmented, Select, Switch } from "antd";
import { useShallow } from "zustand/react/shallow";
import { select, useBench } from "../../../state/bench";
import { pointer, type Valve } from "../../../state/document";
import { act } from "../../../state/edits";
import { edit, goToPart } from "../../../state/model";
import { keepInPackage } from "../../../state/ownParts";
import { inOrder } from "../../../state/tables";
import { setPort, setPosition, setValve } from "../../../state/valves";
import { FindingsList } from "../../../ui/FindingsList";
import { TextField } from "../../../ui/TextField";
import styles from "./written.module.css";

const cx = classNames.bind(styles);

/** What of a valve is typed as a text. */
type Text =
  | "fullPressure"
  | "stroke"
  | "lag"
  | "frequency"
  | "damping"
  | "mass"
  | "spring"
  | "friction"
  | "jetAngle"
  | "leakage"
  | "leakageDrop"
  | "discharge";

/** What moves a valve, how fast, what leaks, and what it does in words. */
export function ValvePanel() {
  const { valve, view, definition, chosen, findings } = useBench(
    useShallow((s) => ({
      valve: s.valve as Valve,
      view: s.view.valve,
      definition: s.definition,
      chosen: s.selection.size === 1 ? ([...s.selection][0] as string) : null,
      findings: s.view.findings,
    })),
  );
  const level = useBench((s) => s.level);
  const text = (member: Text, label: string) => (
    <div className={cx("row", "wide")}>
      <label htmlFor={`valve-${member}`}>{label}</label>
      <TextField
        id={`valve-${member}`}
        label={label}
        value={String(valve[member])}
        commit={(value) => setValve(`Change ${label.toLowerCase()}`, { [member]: value })}
      />
    </div>
  );
  const port = chosen ? valve.ports[chosen] : undefined;
  const position = chosen ? valve.positions[chosen] : undefined;
  const own = findings.filter((f) => f.part === level || f.part?.startsWith(`${level}/`));
  return (
    <>
      <TextField
        label="Name of the valve"
        title
        prose
        value={valve.name}
        commit={(name) => edit("Rename a valve", [{ op: "replace", path: pointer("definitions", definition, "name"), value: name }])}
      />
      <p className={cx("sub")}>
        Directional valve: {Object.keys(valve.ports).length} ports, {Object.keys(valve.positions).length} positions
      </p>
      {port && chosen && (
        <section aria-label="Port">
          <h3>Port {port.name}</h3>
          <div className={cx("row", "wide")}>
            <label htmlFor="port-name">Name</label>
            <TextField
              id="port-name"
              label="Name of the port"
              value={port.name}
              commit={(name) => setPort(chosen, "Rename a port", { name })}
            />
          </div>
          <div className={cx("row", "wide")}>
            <label htmlFor="port-for">What it is for</label>
            <TextField
              id="port-for"
              label="What the port is for"
              prose
              value={port.description ?? ""}
              commit={(description) => setPort(chosen, "Say what a port is for", { description })}
            />
          </div>
          <div className={cx("row")}>
            <label>Side</label>
            <Segmented
              size="small"
              aria-label="Side of the port"
              options={[
                { value: "top", label: "above" },
                { value: "bottom", label: "below" },
              ]}
              value={port.side}
              onChange={(side: "top" | "bottom") => setPort(chosen, "Put a port on the other side", { side })}
            />
          </div>
        </section>
      )}
      {position && chosen && (
        <section aria-label="Position">
          <h3>Position {position.name}</h3>
          <div className={cx("row", "wide")}>
            <label htmlFor="position-name">Name</label>
            <TextField
              id="position-name"
              label="Name of the position"
              value={position.name}
              commit={(name) => setPosition(chosen, "Rename a position", { name })}
            />
          </div>
          <div className={cx("row")}>
            <label>Neutral: without a command</label>
            <Switch
              size="small"
              aria-label="Neutral position"
              checked={valve.neutral === chosen}
              disabled={valve.neutral === chosen}
              onChange={() => setValve("Choose the neutral position", { neutral: chosen })}
            />
          </div>
        </section>
      )}
      <h3>Actuation</h3>
      <div className={cx("row")}>
        <label>Moved by</label>
        <Select
          size="small"
          aria-label="Moved by"
          value={valve.actuation}
          onChange={(actuation) => setValve("Change what moves the valve", { actuation })}
          options={[
            { value: "solenoid", label: "solenoids: a signal" },
            { value: "lever", label: "a lever: a signal" },
            { value: "pilot", label: "pilot pressure at both ends" },
            { value: "pilotOneSide", label: "pilot pressure at one end" },
          ]}
        />
      </div>
      {valve.actuation.startsWith("pilot") && text("fullPressure", "Pressure for the full stroke")}
      <div className={cx("row")}>
        <label>Carries</label>
        <Segmented
          size="small"
          aria-label="What it carries"
          options={[
            { value: "hydraulic", label: "oil" },
            { value: "pneumatic", label: "gas" },
          ]}
          value={valve.medium}
          onChange={(medium: Valve["medium"]) => setValve("Change what the valve carries", { medium })}
        />
      </div>
      <div className={cx("row")}>
        <label>Between positions</label>
        <Select
          size="small"
          aria-label="Between positions"
          value={valve.transition}
          onChange={(transition) => setValve("Change what is open between positions", { transition })}
          options={[
            { value: "asOverlapped", label: "as paths overlap" },
            { value: "closed", label: "all closed" },
            { value: "open", label: "paths of both open" },
          ]}
        />
      </div>
      <h3>Dynamics</h3>
      <div className={cx("row")}>
        <label>Spool</label>
        <Select
          size="small"
          aria-label="Dynamics of the spool"
          value={valve.dynamics}
          onChange={(dynamics) => setValve("Change the dynamics of the spool", { dynamics })}
          options={[
            { value: "none", label: "at once" },
            { value: "lag", label: "lag" },
            { value: "secondOrder", label: "second order" },
            { value: "mass", label: "mass on springs" },
          ]}
        />
      </div>
      {valve.dynamics === "lag" && text("lag", "Time constant")}
      {valve.dynamics === "secondOrder" && (
        <>
          {text("frequency", "Natural frequency")}
          {text("damping", "Damping ratio")}
        </>
      )}
      {valve.dynamics === "mass" && (
        <>
          {text("stroke", "Full stroke")}
          {text("mass", "Mass")}
          {text("spring", "Springs")}
          {text("friction", "Friction")}
          <div className={cx("row")}>
            <label>Jets pull at the spool</label>
            <Switch
              size="small"
              aria-label="Jets pull at the spool"
              checked={valve.hasJets}
              onChange={(hasJets) => setValve(hasJets ? "Count the force of the jets" : "Leave the force of the jets out", { hasJets })}
            />
          </div>
          {valve.hasJets && text("jetAngle", "Angle of the jets")}
        </>
      )}
      <h3>Leakage</h3>
      {text("leakage", "Through a closed path")}
      {text("leakageDrop", "At a drop of")}
      {text("discharge", "Discharge coefficient")}
      <h3>What it does</h3>
      <dl className={cx("words")}>
        {inOrder(valve.positions).map(([id, p]) => (
          <div key={id}>
            <dt>
              <Button type="link" size="small" onClick={() => select([id])}>
                {p.name}
              </Button>
            </dt>
            <dd>{view?.words[id]}</dd>
          </div>
        ))}
        {view?.between && <dd>{view.between}</dd>}
      </dl>
      <div className={cx("buttons")}>
        <Button size="small" onClick={() => void keepInPackage(`#${definition}`, false)}>
          Keep in my package
        </Button>
      </div>
      {own.length > 0 && <FindingsList findings={own} onShow={(part) => void goToPart(part)} onFix={act} />}
    </>
  );
}
