import classNames from "classnames/bind";
import { Input, type InputRef } from "antd";
import { useEffect, useId, useRef, useState } from "react";
import styles from "./ui.module.css";

const cx = classNames.bind(styles);

export interface Option {
  label: string;
  /** What stands beside it. */
  note: string;
  choose: () => void;
}

interface Props {
  label: string;
  placeholder: string;
  text: string;
  onText: (text: string) => void;
  options: readonly Option[];
  /** What is said where nothing is found. */
  nothing: string;
  onEscape: () => void;
}

/** A search field with what it finds below: typed, gone through by arrow keys, chosen by Enter or a click. */
export function OptionList({ label, placeholder, text, onText, options, nothing, onEscape }: Props) {
  const [index, setIndex] = useState(0);
  const input = useRef<InputRef>(null);
  const id = useId();
  useEffect(() => input.current?.focus(), []);
  const key = (e: React.KeyboardEvent) => {
    if (e.key === "Enter") options[index]?.choose();
    else if (e.key === "Escape") onEscape();
    else if (e.key === "ArrowDown") setIndex(Math.min(index + 1, options.length - 1));
    else if (e.key === "ArrowUp") setIndex(Math.max(index - 1, 0));
    else return;
    e.preventDefault();
  };
  return (
    <div className={cx("options")}>
      <Input
        ref={input}
        variant="borderless"
        value={text}
        placeholder={placeholder}
        aria-label={label}
        aria-activedescendant={options[index] ? `${id}-${index}` : undefined}
        role="combobox"
        aria-expanded
        aria-controls={id}
        onChange={(e) => {
          onText(e.target.value);
          setIndex(0);
        }}
        onKeyDown={key}
      />
      <ul id={id} role="listbox" aria-label="Found" tabIndex={0}>
        {options.map((o, i) => (
          <li
            key={`${o.note} ${o.label}`}
            id={`${id}-${i}`}
            role="option"
            aria-selected={i === index}
            // The field keeps the focus.
            onPointerDown={(e) => e.preventDefault()}
            onClick={o.choose}
          >
            <span>{o.label}</span>
            <small>{o.note}</small>
          </li>
        ))}
        {options.length === 0 && (
          <li className="quiet" role="option" aria-selected="false" aria-disabled="true">
            {nothing}
          </li>
        )}
      </ul>
    </div>
  );
}
