import { InputNumber, Modal, Segmented } from "antd";
import { useState } from "react";
import { copyCurves, plottedSignals, saveCurves, type DataForm } from "../../state/curveData";
import { Setting } from "./Setting";

type Form = DataForm | "tabs";

const forms: readonly { value: Form; label: string }[] = [
  { value: "csv", label: "CSV" },
  { value: "parquet", label: "Parquet" },
  { value: "arrow", label: "Arrow" },
  { value: "tabs", label: "Clipboard" },
];

/** The curves of the sheet as data: at the points that were computed, or on a grid. */
export function SaveCurves({ onClose }: { onClose: () => void }) {
  const [form, setForm] = useState<Form>("csv");
  const [grid, setGrid] = useState<"computed" | "grid">("computed");
  const [every, setEvery] = useState(0.1);
  const signals = plottedSignals();
  return (
    <Modal
      open
      title={`Data of ${signals.length === 1 ? "one curve" : `${signals.length} curves`}`}
      okText={form === "tabs" ? "Copy" : "Save"}
      okButtonProps={{ disabled: signals.length === 0 }}
      width={380}
      onCancel={onClose}
      onOk={() => {
        const step = grid === "grid" ? every : null;
        void (form === "tabs" ? copyCurves(signals, step) : saveCurves(signals, form, step));
        onClose();
      }}
    >
      <Setting label="To">
        <Segmented size="small" aria-label="To" value={form} options={[...forms]} onChange={setForm} />
      </Setting>
      <Setting label="Points">
        <Segmented
          size="small"
          aria-label="Points"
          value={grid}
          options={[
            { value: "computed", label: "as computed" },
            { value: "grid", label: "on a grid" },
          ]}
          onChange={setGrid}
        />
      </Setting>
      {grid === "grid" && (
        <Setting label="Distance, s">
          <InputNumber
            size="small"
            aria-label="Distance of the points, s"
            min={1e-9}
            value={every}
            onChange={(v) => v !== null && v > 0 && setEvery(v)}
          />
        </Setting>
      )}
    </Modal>
  );
}
