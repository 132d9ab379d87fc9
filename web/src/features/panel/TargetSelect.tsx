import { Select } from "antd";
import { useState } from "react";
import { api, ask } from "../../api/client";
import { useBench } from "../../state/bench";
import { findSignals } from "../../state/signals";

interface Props {
  label: string;
  /** Whether it is set rather than shown. */
  sets: boolean;
  value: string | undefined;
  /** How the present one is called. */
  called: string | undefined;
  onChange: (target: string | undefined) => void;
}

const OFFERED = 40;

async function found(sets: boolean, search: string): Promise<{ value: string; label: string }[]> {
  if (!sets) {
    const { signals } = await findSignals({ search, limit: OFFERED });
    return signals.map((s) => ({ value: s.reference, label: `${s.label}${s.part ? ` · ${s.part}` : ""}` }));
  }
  const list = await ask(api.GET("/api/models/{id}/settable", { params: { path: { id: useBench.getState().id }, query: { search } } }));
  return list.map((p) => ({ value: p.target, label: p.label }));
}

/** Chooses what a control sets or an instrument shows, by a search. */
export function TargetSelect({ label, sets, value, called, onChange }: Props) {
  const [options, setOptions] = useState<{ value: string; label: string }[]>([]);
  const search = (text: string) =>
    void found(sets, text).then(setOptions, () => {
      setOptions([]);
    });
  return (
    <Select
      size="small"
      allowClear
      showSearch={{ filterOption: false, onSearch: search }}
      aria-label={label}
      placeholder={sets ? "a parameter" : "a signal"}
      value={value ?? null}
      options={value && !options.some((o) => o.value === value) ? [{ value, label: called ?? value }, ...options] : options}
      onFocus={() => search("")}
      onChange={(v: string | null) => onChange(v ?? undefined)}
    />
  );
}
