import classNames from "classnames/bind";
import { useState } from "react";
import { useBench } from "../../../state/bench";
import { addTransition } from "../../../state/charts";
import { OptionList } from "../../../ui/OptionList";
import styles from "./chart.module.css";

const cx = classNames.bind(styles);

/** The states that a transition from the selected one could lead to, by name. */
export function ConnectTo({ from, onClose }: { from: string; onClose: () => void }) {
  const chart = useBench((s) => s.chart);
  const paths = useBench((s) => s.view.chart?.paths);
  const [text, setText] = useState("");
  if (!chart) return null;
  const told = (id: string) => paths?.[id] ?? chart.states[id]?.name ?? "";
  const options = Object.keys(chart.states)
    .filter((id) => told(id).toLowerCase().includes(text.toLowerCase()))
    .slice(0, 9)
    .map((id) => ({
      label: told(id),
      note: id === from ? "itself" : "",
      choose: () => {
        addTransition(from, id, { x: 0, y: 0 }, null);
        onClose();
      },
    }));
  return (
    <div className={cx("choose")} data-ui style={{ left: 200, top: 60 }}>
      <OptionList
        label={`State that a transition from ${told(from)} leads to`}
        placeholder={`From ${told(from)} to …`}
        text={text}
        onText={setText}
        options={options}
        nothing="No state is called so."
        onEscape={onClose}
      />
    </div>
  );
}
