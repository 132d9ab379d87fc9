import classNames from "classnames/bind";
import { Button, Select, Switch } from "antd";
import { useState } from "react";
import { useBench } from "../../state/bench";
import { addAlert, addPanel, removeAlert, removeFault, setAlert, setFault, type Alert, type Fault } from "../../state/panels";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

const GRADES: { value: Alert["grade"]; label: string }[] = [
  { value: "warning", label: "warning" },
  { value: "caution", label: "caution" },
  { value: "advisory", label: "advisory" },
];

const KINDS: { value: Fault["kind"]; label: string; asks: string | null }[] = [
  { value: "stuck", label: "stuck at its present value", asks: null },
  { value: "given", label: "stuck at a value, or out of range", asks: "Value" },
  { value: "lost", label: "lost: held, and not valid", asks: null },
  { value: "bias", label: "bias", asks: "Bias" },
  { value: "drift", label: "drift", asks: "Drift, by the second" },
  { value: "gain", label: "gain", asks: "Factor" },
  { value: "noise", label: "noise", asks: "Standard deviation" },
  { value: "delay", label: "delay", asks: "Delay" },
  { value: "intermittent", label: "intermittent", asks: "Period" },
];

/** What a model is played with: panels, alerts, faults. */
export function PlaySections() {
  const panels = useBench((s) => Object.keys(s.model.panels).length);
  const alerts = useBench((s) => s.model.alerts);
  const faults = useBench((s) => s.model.faults);
  const [open, setOpen] = useState<string | null>(null);
  const toggle = (id: string) => setOpen(open === id ? null : id);
  return (
    <>
      <h3>Operator panels and alerts</h3>
      {Object.entries(alerts).map(([id, a]) => (
        <div key={id}>
          <Button type="text" size="small" aria-expanded={open === id} onClick={() => toggle(id)}>
            {a.text} <span className="quiet">{a.grade}</span>
          </Button>
          {open === id && <AlertFields id={id} alert={a} />}
        </div>
      ))}
      <div className={cx("buttons")}>
        <Button size="small" onClick={addPanel}>
          {panels === 0 ? "Add an operator panel" : "Add another panel"}
        </Button>
        <Button size="small" onClick={addAlert}>
          Add an alert
        </Button>
      </div>
      <h3>Faults</h3>
      {Object.entries(faults).map(([id, f]) => (
        <div key={id}>
          <Button type="text" size="small" aria-expanded={open === id} onClick={() => toggle(id)}>
            {f.name} <span className="quiet">{KINDS.find((k) => k.value === f.kind)?.label}</span>
          </Button>
          {open === id && <FaultFields id={id} fault={f} />}
        </div>
      ))}
      {Object.keys(faults).length === 0 && <p className="quiet">Select a wire or a part to give its signal a fault.</p>}
    </>
  );
}

function AlertFields({ id, alert }: { id: string; alert: Alert }) {
  return (
    <div className={cx("face-details")}>
      <label>Text</label>
      <TextField label="Text of the alert" prose value={alert.text} commit={(text) => setAlert(id, { text })} />
      <label>Grade</label>
      <Select size="small" aria-label="Grade" value={alert.grade} options={GRADES} onChange={(grade) => setAlert(id, { grade })} />
      <label>When</label>
      <TextField label="Condition of the alert" value={alert.condition} commit={(condition) => setAlert(id, { condition })} />
      <label>But not</label>
      <TextField
        label="Condition under which it is not raised"
        value={alert.inhibit ?? ""}
        placeholder="always"
        commit={(inhibit) => setAlert(id, { inhibit })}
        onEmpty={() => setAlert(id, { inhibit: undefined })}
      />
      <label>Stays</label>
      <Switch
        size="small"
        aria-label="Stays until it is seen"
        checked={alert.isLatched}
        onChange={(isLatched) => setAlert(id, { isLatched })}
      />
      <span />
      <Button size="small" onClick={() => removeAlert(id)}>
        Remove the alert
      </Button>
    </div>
  );
}

function FaultFields({ id, fault }: { id: string; fault: Fault }) {
  const asks = KINDS.find((k) => k.value === fault.kind)?.asks;
  return (
    <div className={cx("face-details")}>
      <label>Name</label>
      <TextField label="Name of the fault" prose value={fault.name} commit={(name) => setFault(id, { name })} />
      <label>Kind</label>
      <Select size="small" aria-label="Kind of fault" value={fault.kind} options={KINDS} onChange={(kind) => setFault(id, { kind })} />
      {asks && (
        <>
          <label>{asks}</label>
          <TextField
            label={asks}
            value={fault.value ?? ""}
            commit={(value) => setFault(id, { value })}
            onEmpty={() => setFault(id, { value: undefined })}
          />
        </>
      )}
      <label>Comes and goes at</label>
      <TextField
        label="Times at which it comes and goes"
        value={fault.times ?? ""}
        placeholder="only by hand; or 10 s, 20 s"
        commit={(times) => setFault(id, { times })}
        onEmpty={() => setFault(id, { times: undefined })}
      />
      <label>From the start</label>
      <Switch size="small" aria-label="There from the start" checked={fault.isActive} onChange={(isActive) => setFault(id, { isActive })} />
      <span />
      <Button size="small" onClick={() => removeFault(id)}>
        Remove the fault
      </Button>
    </div>
  );
}
