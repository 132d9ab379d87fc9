import { Select } from "antd";
import { useState } from "react";

interface Found {
  signals: readonly { reference: string; label: string; part: string }[];
}

interface Props {
  /** Searches among all signals. */
  find: (query: { search: string; limit: number }) => Promise<Found>;
  label: string;
  placeholder: string;
  /** The chosen signal with how it is called; null for none. */
  value: { signal: string; label: string } | null;
  onChange: (signal: string) => void;
  className?: string | undefined;
}

/** Signals that are offered at once. */
const OFFERED = 40;

/** Chooses any signal of the model by a search. */
export function SignalSelect({ find, label, placeholder, value, onChange, className }: Props) {
  const [options, setOptions] = useState<{ value: string; label: string }[]>([]);
  const search = (text: string) =>
    void find({ search: text, limit: OFFERED }).then(
      (f) => setOptions(f.signals.map((s) => ({ value: s.reference, label: `${s.label}${s.part ? ` · ${s.part}` : ""}` }))),
      () => setOptions([]),
    );
  return (
    <Select
      size="small"
      showSearch={{ filterOption: false, onSearch: search }}
      value={value?.signal ?? null}
      aria-label={label}
      placeholder={placeholder}
      {...(className ? { className } : {})}
      options={
        value && !options.some((o) => o.value === value.signal) ? [{ value: value.signal, label: value.label }, ...options] : options
      }
      onFocus={() => search("")}
      onChange={(signal: string | null) => signal && onChange(signal)}
    />
  );
}
