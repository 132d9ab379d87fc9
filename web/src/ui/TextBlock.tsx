import { Input } from "antd";
import { useState } from "react";

interface Props {
  label: string;
  value: string;
  commit: (text: string) => void;
  placeholder?: string;
}

/** A text of several lines that is taken over on leaving or with Ctrl and Enter, and restored with Escape. */
export function TextBlock({ label, value, commit, placeholder }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const take = () => {
    if (draft !== null && draft.trim() !== value) commit(draft.trim());
    setDraft(null);
  };
  return (
    <Input.TextArea
      size="small"
      className="mono"
      aria-label={label}
      autoSize={{ minRows: 1, maxRows: 8 }}
      placeholder={placeholder}
      value={draft ?? value}
      spellCheck={false}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === "Enter" && (e.ctrlKey || e.metaKey)) take();
        else if (e.key === "Escape" && draft !== null) {
          e.stopPropagation();
          setDraft(null);
        }
      }}
    />
  );
}
