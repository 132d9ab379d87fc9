import classNames from "classnames/bind";
import { useRef } from "react";
import type { PartView } from "../../api/client";
import { useBench } from "../../state/bench";
import { rename } from "../../state/edits";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

interface Props {
  id: string;
  views: Record<string, PartView>;
  onClose: () => void;
}

/** A part's name, edited where it stands. */
export function NameField({ id, views, onClose }: Props) {
  const node = useBench((s) => s.diagram.parts[id]);
  const cancelled = useRef(false);
  if (!node) return null;
  const commit = (text: string) => {
    const name = text.trim();
    if (!cancelled.current && name && name !== node.name) rename(id, name);
    onClose();
  };
  return (
    <input
      className={cx("name-field")}
      data-ui
      autoFocus
      aria-label={`Name of ${node.name}`}
      defaultValue={node.name}
      style={{ left: node.x + 4, top: node.y - 14, minWidth: Math.max(72, views[id]?.width ?? 0) }}
      onFocus={(e) => e.currentTarget.select()}
      onBlur={(e) => commit(e.currentTarget.value)}
      onKeyDown={(e) => {
        if (e.key === "Escape") cancelled.current = true;
        if (e.key === "Enter" || e.key === "Escape") e.currentTarget.blur();
      }}
    />
  );
}
