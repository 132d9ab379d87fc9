import classNames from "classnames/bind";
import { AutoComplete, Form, Input, Modal, Select } from "antd";
import { useEffect, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask } from "../../api/client";
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

/** A rule is chosen in the place of a signal. */
const RULE = "rule";

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
  const { view, measures, diagram, level } = useBench(
    useShallow((s) => ({ view: s.view, measures: s.model.measures, diagram: s.diagram, level: s.level })),
  );
  const [form] = Form.useForm<Filled>();
  const kind = Form.useWatch("kind", form) ?? node.kind;
  const { signal, measure, ...rest } = node;
  const start = node.rule != null ? RULE : measure ? MEASURE + measure : signal;
  const of = Form.useWatch("of", form) ?? start;
  const isRule = of === RULE;
  const groups = useBench(useShallow((s) => [...new Set(Object.values(s.model.requirements).flatMap((r) => (r.group ? [r.group] : [])))]));
  const isMeasure = of.startsWith(MEASURE);
  const signals = Object.values(view.signals).map((s) => ({ value: s.reference, label: s.unit ? `${s.label} (${s.unit})` : s.label }));
  const hasSteps = Form.useWatch("reference", form) != null && kinds[kind].response;
  // Parts of the level that is shown, and those that are named already.
  const parts = Object.entries(diagram.parts).map(([part, n]) => ({ value: level ? `${level}/${part}` : part, label: n.name }));
  const required = [{ required: true, message: "needed" }];
  return (
    <Modal open title="Requirement" okText="Save" onCancel={onClose} onOk={() => form.submit()} width={480} destroyOnHidden>
      <Form
        form={form}
        className={cx("form")}
        layout="vertical"
        size="small"
        initialValues={{ ...rest, of: start }}
        requiredMark={false}
        onFinish={({ of: chosen, ...filled }) =>
          onSave({
            ...(Object.fromEntries(Object.entries(filled).filter(([, x]) => x !== undefined && x !== "")) as unknown as RequirementNode),
            ...(chosen === RULE
              ? { signal: "", kind: "upperLimit" as const, limit: "0" }
              : chosen.startsWith(MEASURE)
                ? { signal: "", measure: chosen.slice(MEASURE.length) }
                : { signal: chosen }),
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
          <Form.Item name="of" label="Signal, measure or rule" rules={required}>
            <Select
              showSearch={{ optionFilterProp: "label" }}
              options={[
                { value: RULE, label: "A rule over time" },
                { label: "Measures", options: Object.entries(measures).map(([id, m]) => ({ value: MEASURE + id, label: m.name })) },
                { label: "Signals", options: signals },
              ]}
              onChange={(chosen: string) => {
                // A measure is a number: there is no response to look at.
                if (chosen.startsWith(MEASURE) && kinds[kind].response) form.setFieldValue("kind", "upperLimit");
              }}
            />
          </Form.Item>
          <Form.Item name="kind" label="Condition" hidden={isRule}>
            <Select
              options={Object.entries(kinds)
                .filter(([, k]) => !isMeasure || !k.response)
                .map(([value, k]) => ({ value, label: k.label }))}
            />
          </Form.Item>
        </div>
        {isRule && <RuleField />}
        <div className={cx("form-pair")} hidden={isRule}>
          <Form.Item
            name="limit"
            label={`Limit (${isMeasure ? "in the measure’s unit" : kinds[kind].unit})`}
            rules={isRule ? [] : required}
          >
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
        {!isMeasure && !isRule && (
          <div className={cx("form-pair")}>
            <Form.Item name="from" label="From">
              <Input placeholder={hasSteps ? "each step of the set-point" : "start of the run"} />
            </Form.Item>
            <Form.Item name="to" label="To">
              <Input placeholder={hasSteps ? "the next step" : "end of the run"} />
            </Form.Item>
          </div>
        )}
        <div className={cx("form-pair")}>
          <Form.Item name="identifier" label="Identifier">
            <Input placeholder="as its source calls it" />
          </Form.Item>
          <Form.Item name="group" label="Group">
            <AutoComplete options={groups.map((value) => ({ value }))} placeholder="the heading it stands under" />
          </Form.Item>
          <Form.Item name="source" label="Source">
            <Input placeholder="document and section" />
          </Form.Item>
          <Form.Item name="priority" label="Priority">
            <Select
              allowClear
              options={[
                { value: "must", label: "must" },
                { value: "should", label: "should" },
                { value: "may", label: "may" },
              ]}
            />
          </Form.Item>
        </div>
        <Form.Item name="parts" label="Parts it is about, beside those of its signals">
          <Select mode="multiple" allowClear showSearch={{ optionFilterProp: "label" }} options={parts} />
        </Form.Item>
        <Form.Item name="rationale" label="Rationale">
          <Input.TextArea autoSize placeholder="why it is wanted" />
        </Form.Item>
      </Form>
    </Modal>
  );
}

/** A temporal rule with what is wrong with it, told while it is typed. */
function RuleField() {
  const model = useBench((s) => s.id);
  const rule = Form.useWatch("rule") as string | null | undefined;
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    if (!rule?.trim()) return setProblem(null);
    let wanted = true;
    const later = setTimeout(
      () =>
        void ask(api.POST("/api/models/{id}/rules", { params: { path: { id: model } }, body: { rule } })).then(
          (a) => wanted && setProblem(a.problem ?? null),
          (e: Error) => wanted && setProblem(e.message),
        ),
      250,
    );
    return () => {
      wanted = false;
      clearTimeout(later);
    };
  }, [rule, model]);
  return (
    <Form.Item
      name="rule"
      label="Rule"
      rules={[{ required: true, message: "needed" }]}
      validateStatus={problem ? "warning" : undefined}
      help={problem ?? undefined}
      extra={
        <span className={cx("grammar")}>
          <code>always</code>, <code>never</code>, <code>eventually</code>, <code>within 20 s</code> before a condition;{" "}
          <code>for at least 5 s</code> behind it; <code>… until …</code>; <code>after …, …</code>;{" "}
          <code>whenever … then within 20 s …</code>
        </span>
      }
    >
      <Input.TextArea
        autoSize={{ minRows: 2 }}
        spellCheck={false}
        className="mono"
        placeholder="whenever depth > 12 m then within 20 s speed stays below 0.1 m/s for at least 5 s"
      />
    </Form.Item>
  );
}
