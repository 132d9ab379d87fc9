import classNames from "classnames/bind";
import { Input } from "antd";
import { useState } from "react";
import { shownText } from "./typedUnit";
import styles from "./ui.module.css";

const cx = classNames.bind(styles);

interface Props {
  label: string;
  value: string;
  commit: (text: string) => void;
  /** What an emptied field means; without it the text before comes back. */
  onEmpty?: () => void;
  /** Checks a text while it is typed. */
  check?: (text: string) => void;
  invalid?: boolean;
  quiet?: boolean;
  /** A text to read, not a value. */
  prose?: boolean;
  /** The name of what stands below it. */
  title?: boolean;
  placeholder?: string;
  id?: string;
}

/** Longer texts are written smaller, and shown whole when pointed at. */
const LONG = 12;

/** A text that is taken over with Enter or on leaving, and restored with Escape. */
export function TextField({ label, value, commit, onEmpty, check, invalid, quiet, prose, title, placeholder, id }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const [focused, setFocused] = useState(false);
  const take = (text: string | null) => {
    if (text !== null && text.trim() === "" && value !== "") onEmpty?.();
    else if (text !== null && text.trim() !== "" && text.trim() !== value) commit(text.trim());
    setDraft(null);
  };
  return (
    <Input
      id={id}
      size="small"
      className={cx("field", { editing: draft !== null, invalid, "quiet-value": quiet, prose, title, long: value.length > LONG })}
      data-draft={draft !== null}
      aria-label={label}
      aria-invalid={invalid}
      placeholder={placeholder}
      value={draft ?? (focused || prose || title ? value : shownText(value))}
      title={value.length > LONG ? value : undefined}
      spellCheck={false}
      onFocus={(e) => {
        setFocused(true);
        const field = e.target;
        // Selected once the text stands as it was typed.
        requestAnimationFrame(() => window.document.activeElement === field && field.select());
      }}
      onChange={(e) => {
        setDraft(e.target.value);
        check?.(e.target.value);
      }}
      onBlur={() => {
        setFocused(false);
        take(draft);
      }}
      onKeyDown={(e) => {
        if (e.key === "Enter") take(draft);
        else if (e.key === "Escape") {
          // What was typed is given up first; the next Escape leaves the field.
          if (draft !== null) e.stopPropagation();
          setDraft(null);
          check?.(value);
        }
      }}
    />
  );
}
