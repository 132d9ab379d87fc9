import { Input } from "antd";
import { useState } from "react";

interface Props {
  label: string;
  value: number | null;
  /** Whether a number can be taken. */
  fits?: (v: number) => boolean;
  put: (v: number) => void;
  className?: string;
  /** What stands where there is no number yet. */
  placeholder?: string;
}

/** A number that is taken with Enter or when the field is left; what is no number is put back. */
export function NumberField({ label, value, fits = (v) => v > 0, put, className, placeholder }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const take = () => {
    const v = Number(draft?.replace("−", "-"));
    if (draft !== null && draft.trim() !== "" && Number.isFinite(v) && fits(v) && v !== value) put(v);
    setDraft(null);
  };
  return (
    <Input
      size="small"
      {...(className ? { className } : {})}
      aria-label={label}
      {...(placeholder ? { placeholder } : {})}
      value={draft ?? (value === null ? "" : String(Number(value.toPrecision(4))))}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === "Enter") {
          // The number is taken; what stands around it is sent by its own button.
          e.preventDefault();
          take();
        }
        if (e.key === "Escape") setDraft(null);
      }}
    />
  );
}
