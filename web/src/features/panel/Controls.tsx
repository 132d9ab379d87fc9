import classNames from "classnames/bind";
import { Button, Select, Slider, Switch } from "antd";
import { useRef, useState } from "react";
import { useBench } from "../../state/bench";
import { isPlaying } from "../../state/play";
import { play, type PanelItem, type PanelItemView } from "../../state/panels";
import { TextField } from "../../ui/TextField";
import { Knob } from "./Knob";
import styles from "./panel.module.css";

const cx = classNames.bind(styles);

export interface ItemProps {
  item: PanelItem;
  view: PanelItemView | undefined;
  label: string;
}

/** What a control stands at: what was set by hand last, else what the model has. */
function useSetting(item: PanelItem, view: PanelItemView | undefined): string {
  const set = useBench((s) => s.panelSet.get(item.target ?? ""));
  if (set !== undefined) return set;
  const value = view?.value ?? 0;
  return view?.type === "Boolean" ? String(value !== 0) : String(value);
}

const numberIn = (text: string) => Number.parseFloat(text) || 0;

/** A control: it sets a parameter of the run that is played. */
export function Control({ item, view, label }: ItemProps) {
  const enabled = useBench((s) => isPlaying(s));
  const now = useSetting(item, view);
  const target = item.target ?? "";
  const unit = item.unit ?? "";
  const say = (value: number | string) => play(target, typeof value === "number" ? `${value}${unit ? ` ${unit}` : ""}` : value);
  const [from, to] = [item.from ?? 0, item.to ?? 1];
  const disabled = !enabled || !!view?.problem;
  switch (item.kind) {
    case "switch":
      return (
        <label className={cx("line")}>
          <span>{label}</span>
          <Switch
            aria-label={label}
            disabled={disabled}
            checked={view?.type === "Boolean" ? now === "true" : numberIn(now) !== 0}
            onChange={(on) => say(view?.type === "Boolean" ? String(on) : on ? 1 : 0)}
          />
        </label>
      );
    case "button": {
      const on = now === "true" || numberIn(now) !== 0;
      return (
        <Button
          block
          className={cx("press", { on })}
          disabled={disabled}
          aria-pressed={on}
          onClick={() => say(view?.type === "Boolean" ? String(!on) : on ? 0 : 1)}
        >
          {label}
        </Button>
      );
    }
    case "pushButton":
      return <PushButton label={label} disabled={disabled} target={target} isBoolean={view?.type === "Boolean"} />;
    case "list":
      return (
        <label className={cx("line")}>
          <span>{label}</span>
          <Select
            size="small"
            aria-label={label}
            disabled={disabled}
            value={now}
            options={item.choices.map((c) => ({ value: c.value, label: c.label }))}
            onChange={say}
          />
        </label>
      );
    case "choice":
      return (
        <div className={cx("choices")} role="radiogroup" aria-label={label}>
          {item.choices.map((c) => (
            <Button
              key={c.value}
              block
              role="radio"
              aria-checked={now === c.value}
              className={cx("press", { on: now === c.value })}
              disabled={disabled}
              onClick={() => say(c.value)}
            >
              {c.label}
            </Button>
          ))}
        </div>
      );
    case "slider":
      return (
        <div className={cx("slide")}>
          <span>
            {label} <b className="mono">{shown(now)}</b> <small>{unit || view?.unit}</small>
          </span>
          <Slider
            aria-label={label}
            ariaLabelForHandle={label}
            disabled={disabled}
            min={from}
            max={to}
            step={(to - from) / 200}
            value={numberIn(now)}
            onChange={say}
            tooltip={{ open: false }}
          />
        </div>
      );
    case "knob":
      return (
        <Knob
          label={label}
          unit={unit || (view?.unit ?? "")}
          from={from}
          to={to}
          value={numberIn(now)}
          disabled={disabled}
          onChange={say}
        />
      );
    case "numberField":
      return (
        <label className={cx("line")}>
          <span>{label}</span>
          <TextField label={label} value={now} commit={(text) => !disabled && play(target, text)} />
        </label>
      );
    case "stick":
      return <Stick item={item} label={label} disabled={disabled} />;
    default:
      return null;
  }
}

const shown = (text: string) => String(Number(numberIn(text).toPrecision(3)));

/** True for as long as it is held, by pointer or by key. */
function PushButton({ label, disabled, target, isBoolean }: { label: string; disabled: boolean; target: string; isBoolean: boolean }) {
  const [down, setDown] = useState(false);
  const press = (on: boolean) => {
    if (disabled || on === down) return;
    setDown(on);
    play(target, isBoolean ? String(on) : on ? "1" : "0", true);
  };
  const isKey = (e: React.KeyboardEvent) => e.key === " " || e.key === "Enter";
  return (
    <Button
      block
      className={cx("press", { on: down })}
      disabled={disabled}
      aria-pressed={down}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        press(true);
      }}
      onPointerUp={() => press(false)}
      onPointerCancel={() => press(false)}
      onBlur={() => press(false)}
      onKeyDown={(e) => isKey(e) && (e.preventDefault(), press(true))}
      onKeyUp={(e) => isKey(e) && press(false)}
    >
      {label}
    </Button>
  );
}

/** Two axes that go back to the middle when they are let go. */
function Stick({ item, label, disabled }: { item: PanelItem; label: string; disabled: boolean }) {
  const ground = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState({ x: 0, y: 0 });
  const [from, to] = [item.from ?? -1, item.to ?? 1];
  const go = (x: number, y: number) => {
    if (disabled) return;
    setAt({ x, y });
    const value = (v: number) => `${Number((from + ((v + 1) / 2) * (to - from)).toFixed(4))}${item.unit ? ` ${item.unit}` : ""}`;
    if (item.target) play(item.target, value(x));
    if (item.second) play(item.second, value(y));
  };
  const follow = (e: React.PointerEvent) => {
    const box = ground.current?.getBoundingClientRect();
    if (!box) return;
    const clamp = (v: number) => Math.max(-1, Math.min(1, v));
    go(clamp(((e.clientX - box.left) / box.width) * 2 - 1), item.second ? clamp(1 - ((e.clientY - box.top) / box.height) * 2) : 0);
  };
  const keys: Record<string, [number, number]> = { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, 0.1], ArrowDown: [0, -0.1] };
  return (
    <div className={cx("stick")}>
      <span>{label}</span>
      <div
        ref={ground}
        className={cx("ground", { disabled, one: !item.second })}
        role="slider"
        tabIndex={disabled ? -1 : 0}
        aria-label={label}
        aria-valuenow={at.x}
        aria-valuemin={-1}
        aria-valuemax={1}
        aria-valuetext={`${at.x.toFixed(2)}, ${at.y.toFixed(2)}`}
        aria-disabled={disabled}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          follow(e);
        }}
        onPointerMove={(e) => e.currentTarget.hasPointerCapture(e.pointerId) && follow(e)}
        onPointerUp={() => go(0, 0)}
        onPointerCancel={() => go(0, 0)}
        onKeyDown={(e) => {
          const step = keys[e.key];
          if (step) {
            e.preventDefault();
            go(Math.max(-1, Math.min(1, at.x + step[0])), Math.max(-1, Math.min(1, at.y + step[1])));
          } else if (e.key === "Escape" || e.key === " ") go(0, 0);
        }}
      >
        <i style={{ left: `${(at.x + 1) * 50}%`, top: item.second ? `${(1 - at.y) * 50}%` : "50%" }} />
      </div>
    </div>
  );
}
