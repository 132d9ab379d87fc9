import { Select } from "antd";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { lookFrom, useTune } from "../../state/tune";
import { format } from "../../ui/format";

/** About which operating point everything is looked at: where runs begin, an instant, or a saved one. */
export function PointSelect() {
  const { time, points } = useBench(useShallow((s) => ({ time: s.time, points: s.model.operatingPoints })));
  const { at, saved } = useTune(useShallow((s) => ({ at: s.at, saved: s.saved })));
  const known = saved !== null && saved in points ? saved : null;
  return (
    <Select
      size="small"
      variant="borderless"
      aria-label="Operating point"
      value={known ?? (at === null ? " start" : " time")}
      onChange={(v) => (v === " start" ? lookFrom(null, null) : v === " time" ? lookFrom(time ?? 0, null) : lookFrom(null, v))}
      options={[
        { value: " start", label: "at rest" },
        { value: " time", label: at !== null ? `at ${format(at)} s` : time === null ? "at the start" : `at ${format(time)} s` },
        ...Object.entries(points).map(([value, p]) => ({ value, label: p.name })),
      ]}
      popupMatchSelectWidth={false}
    />
  );
}
