import classNames from "classnames/bind";
import { Form, Input, Modal, Select } from "antd";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import type { RequirementKind, RequirementNode } from "../../state/document";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

/** What requirements can hold a signal to; a measure is held to limits only. */
export const kinds: Record<RequirementKind, { label: string; unit: string; response: boolean }> = {
  upperLimit: { label: "Upper limit", unit: "in the signal's unit", response: false },
  lowerLimit: { label: "Lower limit", unit: "in the signal's unit", response: false },
  overshoot: { label: "Overshoot at most", unit: "% of the step", response: true },
  riseTime: { label: "Rise time at most", unit: "s", response: true },
  settlingTime: { label: "Settling time at most", unit: "s", response: true },
  steadyStateError: { label: "Steady-state error at most", unit: "in the signal's unit", response: true },
};

/** What a requirement is on, as the choice has it: a signal, or a measure with a mark before its id. */
const MEASURE = "measure:";

type Filled = Omit<RequirementNode, "signal" | "measure"> & { of: string };

/** A requirement is made or changed. */
export function RequirementForm({
  node,
  onSave,
  onClose,
}: {
  node: RequirementNode;
  onSave: (n: RequirementNode) => void;
  onClose: () => void;
}) {
  const { view, measures } = useBench(useShallow((s) => ({ view: s.view, measures: s.model.measures })));
  const [form] = Form.useForm<Filled>();
  const kind = Form.useWatch("kind", form) ?? node.kind;
  const { signal, measure, ...rest } = node;
  const of = Form.useWatch("of", form) ?? (measure ? MEASURE + measure : signal);
  const isMeasure = of.startsWith(MEASURE);
  const signals = Object.values(view.signals).map((s) => ({ value: s.reference, label: s.unit ? `${s.label} (${s.unit})` : s.label }));
  const required = [{ required: true, message: "needed" }];
  return (
    <Modal open title="Requirement" okText="Save" onCancel={onClose} onOk={() => form.submit()} width={480} destroyOnHidden>
      <Form
        form={form}
        layout="vertical"
        size="small"
        initialValues={{ ...rest, of: measure ? MEASURE + measure : signal }}
        requiredMark={false}
        onFinish={({ of: chosen, ...filled }) =>
          onSave({
            ...(Object.fromEntries(Object.entries(filled).filter(([, x]) => x !== undefined && x !== "")) as unknown as RequirementNode),
            ...(chosen.startsWith(MEASURE) ? { signal: "", measure: chosen.slice(MEASURE.length) } : { signal: chosen }),
          })
        }
      >
        <Form.Item name="name" label="Name" rules={required}>
          <Input />
        </Form.Item>
        <Form.Item name="text" label="Text">
          <Input.TextArea autoSize />
        </Form.Item>
        <div className={cx("form-pair")}>
          <Form.Item name="of" label="Signal or measure" rules={required}>
            <Select
              showSearch={{ optionFilterProp: "label" }}
              options={[
                { label: "Measures", options: Object.entries(measures).map(([id, m]) => ({ value: MEASURE + id, label: m.name })) },
                { label: "Signals", options: signals },
              ]}
              onChange={(chosen: string) => {
                // A measure is a number: there is no response to look at.
                if (chosen.startsWith(MEASURE) && kinds[kind].response) form.setFieldValue("kind", "upperLimit");
              }}
            />
          </Form.Item>
          <Form.Item name="kind" label="Condition">
            <Select
              options={Object.entries(kinds)
                .filter(([, k]) => !isMeasure || !k.response)
                .map(([value, k]) => ({ value, label: k.label }))}
            />
          </Form.Item>
        </div>
        <div className={cx("form-pair")}>
          <Form.Item name="limit" label={`Limit (${isMeasure ? "in the measure’s unit" : kinds[kind].unit})`} rules={required}>
            <Input />
          </Form.Item>
          {kinds[kind].response && (
            <Form.Item name="reference" label="Set-point (else the last value)">
              <Select showSearch={{ optionFilterProp: "label" }} allowClear options={signals} />
            </Form.Item>
          )}
          {kind === "settlingTime" && (
            <Form.Item name="band" label="Band (% of the step)">
              <Input placeholder="2 %" />
            </Form.Item>
          )}
        </div>
        {!isMeasure && (
          <div className={cx("form-pair")}>
            <Form.Item name="from" label="From">
              <Input placeholder="start of the run" />
            </Form.Item>
            <Form.Item name="to" label="To">
              <Input placeholder="end of the run" />
            </Form.Item>
          </div>
        )}
      </Form>
    </Modal>
  );
}
