import classNames from "classnames/bind";
import { InputNumber } from "antd";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** A line of a panel: what is set, and with what. */
export const Setting = ({ label, children }: { label: string; children: React.ReactNode }) => (
  <div className={cx("setting")}>
    <span>{label}</span>
    <div>{children}</div>
  </div>
);

interface NumberProps {
  label: string;
  value: number | null;
  onChange: (value: number) => void;
  /** Told when the field is emptied, where that means something. */
  onEmpty?: () => void;
  min?: number;
  max?: number;
  step?: number;
}

/** A line with a number. */
export const NumberSetting = ({ label, value, onChange, onEmpty, ...limits }: NumberProps) => (
  <Setting label={label}>
    <InputNumber
      size="small"
      aria-label={label}
      value={value}
      {...(onEmpty ? { placeholder: "automatic" } : {})}
      onChange={(v) => (v !== null ? onChange(v) : onEmpty?.())}
      {...limits}
    />
  </Setting>
);
