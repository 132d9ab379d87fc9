import classNames from "classnames/bind";
import { Select } from "antd";
import { useShallow } from "zustand/react/shallow";
import { maps, setForm, setRatio, useTune, type Depth, type MapForm } from "../../state/tune";
import { formName } from "./forms";
import { NumberField } from "./NumberField";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

const depths = [
  { value: "loadError", label: "load error" },
  { value: "noiseGain", label: "noise gain" },
];

const short = (form: MapForm) => formName(form).replace(" order", "");

/** What the map is of: the form of the controller and what its lines stand for. */
export function MapChoice() {
  const { loop, form, ratio, depth } = useTune(
    useShallow((s) => ({
      loop: s.loops.find((l) => l.part === s.part),
      form: s.form,
      ratio: s.ratio ?? Number(s.hand?.rejection?.ratio ?? 5),
      depth: s.depth,
    })),
  );
  const forms = maps.map((f) => ({
    value: f,
    label: loop?.others.includes(f) ? `${formName(f)}: another part` : formName(f),
    disabled: !loop?.forms.includes(f) && !loop?.others.includes(f),
  }));
  return (
    <>
      <label>
        of{" "}
        <Select
          size="small"
          variant="borderless"
          aria-label="Form of the controller"
          value={form}
          options={forms}
          labelRender={() => short(form)}
          onChange={(f: MapForm) => setForm(f)}
          popupMatchSelectWidth={false}
        />
      </label>
      {form.startsWith("rejection") && (
        <label>
          observer{" "}
          <NumberField label="Ratio of the observer" className={cx("ratio-field")} value={ratio} fits={(v) => v >= 1} put={setRatio} /> ×
        </label>
      )}
      <Select
        size="small"
        variant="borderless"
        aria-label="What the lines of the map show"
        value={depth}
        options={depths}
        onChange={(d: Depth) => useTune.setState({ depth: d })}
        popupMatchSelectWidth={false}
      />
    </>
  );
}
