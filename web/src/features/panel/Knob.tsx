import classNames from "classnames/bind";
import { useRef } from "react";
import { format } from "../../ui/format";
import { arcPath, onCircle } from "./scale";
import styles from "./panel.module.css";

const cx = classNames.bind(styles);

interface Props {
  label: string;
  unit: string;
  from: number;
  to: number;
  value: number;
  disabled: boolean;
  onChange: (value: number) => void;
}

/** How far the pointer goes for the whole scale, in pixels. */
const TRAVEL = 160;

/** Turned by dragging up and down, or by arrow keys. */
export function Knob({ label, unit, from, to, value, disabled, onChange }: Props) {
  const start = useRef({ y: 0, value: 0 });
  const clamp = (v: number) => Number(Math.max(from, Math.min(to, v)).toPrecision(6));
  const part = (clamp(value) - from) / (to - from || 1);
  const end = onCircle(32, 32, 15, part);
  return (
    <div className={cx("knob")}>
      <svg
        viewBox="0 0 64 60"
        role="slider"
        tabIndex={disabled ? -1 : 0}
        aria-label={label}
        aria-valuemin={from}
        aria-valuemax={to}
        aria-valuenow={value}
        aria-disabled={disabled}
        onPointerDown={(e) => {
          if (disabled) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          start.current = { y: e.clientY, value };
        }}
        onPointerMove={(e) => {
          if (e.currentTarget.hasPointerCapture(e.pointerId))
            onChange(clamp(start.current.value + ((start.current.y - e.clientY) / TRAVEL) * (to - from)));
        }}
        onKeyDown={(e) => {
          const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[e.key];
          if (by === undefined || disabled) return;
          e.preventDefault();
          onChange(clamp(value + (by * (to - from)) / 100));
        }}
      >
        <path d={arcPath(32, 32, 24, 0, 1)} className={cx("track")} />
        <path d={arcPath(32, 32, 24, 0, part)} className={cx("filled")} />
        <circle cx="32" cy="32" r="17" className={cx("cap")} />
        <line x1="32" y1="32" x2={end.x} y2={end.y} className={cx("pointer")} />
      </svg>
      <span>
        {label} <b className="mono">{format(value, 3)}</b> <small>{unit}</small>
      </span>
    </div>
  );
}
