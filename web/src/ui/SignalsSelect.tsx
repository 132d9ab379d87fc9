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
  value: readonly string[];
  onChange: (signals: string[]) => void;
  className?: string | undefined;
}

/** Signals that are offered at once. */
const OFFERED = 40;

/** Chooses any number of signals of the model by a search. */
export function SignalsSelect({ find, label, placeholder, value, onChange, className }: Props) {
  const [options, setOptions] = useState<{ value: string; label: string }[]>([]);
  const search = (text: string) =>
    void find({ search: text, limit: OFFERED }).then(
      (f) => setOptions(f.signals.map((s) => ({ value: s.reference, label: `${s.label}${s.part ? ` · ${s.part}` : ""}` }))),
      () => setOptions([]),
    );
  const unknown = value.filter((v) => !options.some((o) => o.value === v)).map((v) => ({ value: v, label: v }));
  return (
    <Select
      size="small"
      mode="multiple"
      showSearch={{ filterOption: false, onSearch: search }}
      value={[...value]}
      aria-label={label}
      placeholder={placeholder}
      maxTagCount={1}
      {...(className ? { className } : {})}
      options={[...unknown, ...options]}
      onFocus={() => search("")}
      onChange={(signals: string[]) => onChange(signals)}
      popupMatchSelectWidth={false}
    />
  );
}
