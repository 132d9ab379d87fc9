import { Input } from "antd";
import { useState } from "react";

interface Props {
  label: string;
  value: string;
  commit: (text: string) => void;
  placeholder?: string;
  /** A text to read: Enter takes it over. */
  prose?: boolean;
}

/** A text of several lines that is taken over on leaving or with Ctrl and Enter, and restored with Escape. */
export function TextBlock({ label, value, commit, placeholder, prose = false }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const take = () => {
    if (draft !== null && draft.trim() !== value) commit(draft.trim());
    setDraft(null);
  };
  return (
    <Input.TextArea
      size="small"
      className={prose ? undefined : "mono"}
      aria-label={label}
      autoSize={{ minRows: 1, maxRows: prose ? 14 : 8 }}
      placeholder={placeholder}
      value={draft ?? value}
      spellCheck={false}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === "Enter" && (prose ? !e.shiftKey : e.ctrlKey || e.metaKey)) {
          e.preventDefault();
          take();
        } else if (e.key === "Escape" && draft !== null) {
          e.stopPropagation();
          setDraft(null);
        }
      }}
    />
  );
}
