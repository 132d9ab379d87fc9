import classNames from "classnames/bind";
import { Button, Segmented } from "antd";
import { useState, type KeyboardEvent } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../../state/bench";
import type { Valve, ValvePath } from "../../../state/document";
import { addPort, addPosition, mirrorPosition, movePosition, removeOfValve, setPath, positionOf } from "../../../state/valves";
import { LevelToolbar } from "./LevelToolbar";
import { ValveDrawing } from "./ValveDrawing";
import { ValveOpenings } from "./ValveOpenings";
import styles from "./valve.module.css";

const cx = classNames.bind(styles);

const kinds: { value: ValvePath["kind"]; label: string }[] = [
  { value: "plain", label: "Path" },
  { value: "check", label: "Check valve" },
  { value: "orifice", label: "Orifice" },
];

/** A directional valve: its symbol, drawn by hand, and how far each path opens. */
export function ValveStage() {
  const { valve, chosen } = useBench(
    useShallow((s) => ({ valve: s.valve as Valve, chosen: s.selection.size === 1 ? ([...s.selection][0] as string) : null })),
  );
  const [kind, setKind] = useState<ValvePath["kind"]>("plain");
  const position = chosen !== null && chosen in valve.positions ? chosen : null;
  const path = chosen !== null ? positionOf(valve, chosen) : null;
  const keys = (e: KeyboardEvent) => {
    if ((e.key === "Delete" || e.key === "Backspace") && chosen && !(e.target as HTMLElement).closest("input, textarea")) {
      e.preventDefault();
      removeOfValve(chosen);
    }
  };
  return (
    <div className={cx("stage")} onKeyDown={keys}>
      <LevelToolbar>
        <Segmented
          size="small"
          aria-label="What is drawn between ports"
          options={kinds}
          value={path && chosen ? (valve.positions[path]?.paths[chosen]?.kind ?? kind) : kind}
          onChange={(value) => {
            setKind(value);
            if (path && chosen) setPath(chosen, "Change the kind of a path", { kind: value });
          }}
        />
        <Button size="small" onClick={addPosition} disabled={Object.keys(valve.positions).length >= 5}>
          Position
        </Button>
        <Button size="small" onClick={addPort} disabled={Object.keys(valve.ports).length >= 6}>
          Port
        </Button>
        {position && (
          <>
            <Button size="small" onClick={() => mirrorPosition(position)}>
              Mirror
            </Button>
            <Button size="small" onClick={() => movePosition(position, -1)} aria-label="Move the position to the left">
              ←
            </Button>
            <Button size="small" onClick={() => movePosition(position, 1)} aria-label="Move the position to the right">
              →
            </Button>
          </>
        )}
        {chosen && (
          <Button size="small" onClick={() => removeOfValve(chosen)}>
            Delete
          </Button>
        )}
      </LevelToolbar>
      <div className={cx("scroll")}>
        <ValveDrawing valve={valve} kind={kind} />
        <ValveOpenings valve={valve} />
      </div>
    </div>
  );
}
