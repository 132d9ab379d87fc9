import { Button, Form, Input, Modal, Select } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { capture, choose, showView } from "../../state/cases";
import { freeName } from "../../state/caseEdits";
import { probesOf } from "../../state/document";
import { findSignals } from "../../state/signals";

/** Makes a case of the present run: what drove it, and courses of signals as what is expected from now on. */
export function CaptureButton() {
  const run = useBench((s) => (s.run?.state === "finished" && !s.run.failure ? s.run.id : null));
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" disabled={run === null} onClick={() => setOpen(true)}>
        Make a case of this run
      </Button>
      {open && run !== null && <CaptureForm run={run} onClose={() => setOpen(false)} />}
    </>
  );
}

function CaptureForm({ run, onClose }: { run: string; onClose: () => void }) {
  const { model, infos } = useBench(useShallow((s) => ({ model: s.model, infos: s.view.signals })));
  const plotted = [...new Set(probesOf(model).map((p) => p.reference))];
  const [name, setName] = useState(
    freeName(
      "As it is",
      Object.values(model.cases).map((c) => c.name),
    ),
  );
  const [signals, setSignals] = useState<string[]>(plotted);
  const labels = new Map(Object.values(infos).map((s) => [s.reference, s.label]));
  const [found, setFound] = useState<{ value: string; label: string }[]>([]);
  const search = (text: string) =>
    void findSignals({ search: text, limit: 60 }).then((f) =>
      setFound(f.signals.map((s) => ({ value: s.reference, label: `${s.label}${s.part ? ` · ${s.part}` : ""}` }))),
    );
  const known = new Set(found.map((f) => f.value));
  const options = [...plotted.filter((p) => !known.has(p)).map((p) => ({ value: p, label: labels.get(p) ?? p })), ...found];
  return (
    <Modal
      open
      title="Make a case of this run"
      okText="Make the case"
      okButtonProps={{ disabled: name.trim() === "" }}
      onCancel={onClose}
      onOk={() =>
        void capture(run, name.trim(), signals).then((made) => {
          if (!made) return;
          choose({ case: made });
          showView("cases");
          onClose();
        })
      }
      width={440}
    >
      <Form layout="vertical" size="small">
        <Form.Item label="Name" htmlFor="case-name">
          <Input id="case-name" value={name} onChange={(e) => setName(e.target.value)} autoFocus />
        </Form.Item>
        <Form.Item
          label="Signals that have to do the same from now on"
          htmlFor="case-signals"
          extra="Each to within 1 % of its range; the tolerance of each can be changed."
        >
          <Select
            id="case-signals"
            mode="multiple"
            showSearch={{ filterOption: false, onSearch: search }}
            onFocus={() => search("")}
            value={signals}
            onChange={setSignals}
            options={options}
            placeholder="none: the requirements alone judge it"
          />
        </Form.Item>
      </Form>
    </Modal>
  );
}
