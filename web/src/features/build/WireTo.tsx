import classNames from "classnames/bind";
import { useMemo, useState } from "react";
import type { PartView } from "../../api/client";
import { useBench } from "../../state/bench";
import type { Point } from "../../state/document";
import { connect } from "../../state/edits";
import { wiringsOf } from "../../state/wirings";
import { OptionList } from "../../ui/OptionList";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

/** Parts that wires are asked for: the first, and those that they may lead to. */
export interface WireRequest {
  screen: Point;
  part: string;
  among: readonly string[];
}

/** How many are shown at once. */
const SHOWN = 9;

/** Lays a wire by names: what the selected part could be joined to, nearest first, narrowed down by typing. */
export function WireTo({ request, views, onClose }: { request: WireRequest; views: Record<string, PartView>; onClose: () => void }) {
  const diagram = useBench((s) => s.diagram);
  const [text, setText] = useState("");
  const all = useMemo(() => wiringsOf({ diagram, views }, request.part, request.among), [diagram, views, request]);
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = all.filter((w) => words.every((word) => w.label.toLowerCase().includes(word))).slice(0, SHOWN);
  return (
    <div className={cx("quick-place")} data-ui style={{ left: request.screen.x, top: request.screen.y }}>
      <OptionList
        label="Port to wire to"
        placeholder={`Wire ${diagram.parts[request.part]?.name ?? ""} to or from`}
        text={text}
        onText={setText}
        options={found.map((w) => ({
          label: w.label,
          note: w.isFree ? "" : "replaces a wire",
          choose: () => {
            connect(w.from, w.to);
            onClose();
          },
        }))}
        nothing="No port of that name fits."
        onEscape={onClose}
      />
    </div>
  );
}
