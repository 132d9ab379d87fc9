import classNames from "classnames/bind";
import { useEffect, useRef, useState } from "react";
import { api, ask } from "../../api/client";
import type { Preview, PreviewLabel } from "../../scene/PartDrawing";
import { referenceOf } from "../../state/document";
import { useBench } from "../../state/bench";
import { useAnswer } from "../../state/useAnswer";
import { format } from "../../ui/format";
import { tokens } from "../../ui/tokens";
import { useDrawing } from "./useDrawing";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

const ink = {
  paper: tokens.paper,
  edge: tokens.quiet,
  metal: tokens.dashes,
  fin: tokens.hair,
  shell: tokens.edge,
  first: tokens.fluid,
  second: tokens.translational,
};

/** One step of a key, rad. */
const TURN = Math.PI / 18;

/** What a part looks like with its sizes, to be turned with the mouse or the arrow keys. */
export function PartPicture({ id, name }: { id: string; name: string }) {
  const model = useBench((s) => s.id);
  const level = useBench((s) => s.level);
  const revision = useBench((s) => s.revision);
  const part = referenceOf(level, id);
  const { answer, problem } = useAnswer(
    model ? () => ask(api.GET("/api/models/{id}/preview", { params: { path: { id: model }, query: { part } } })) : null,
    `${model} ${part} ${revision}`,
  );
  const [last, setLast] = useState(answer);
  if (answer && answer !== last) setLast(answer);
  const shown = answer ?? last;
  return (
    <figure className={cx("picture")}>
      <Picture preview={shown as Preview | null} name={name} />
      {shown?.problem && <figcaption className={cx("impossible")}>{shown.problem}</figcaption>}
      {problem && !shown && <figcaption className={cx("sub")}>{problem.message}</figcaption>}
    </figure>
  );
}

function Picture({ preview, name }: { preview: Preview | null; name: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [labels, setLabels] = useState<readonly PreviewLabel[]>([]);
  const drawing = useDrawing(canvas, ink, setLabels);
  useEffect(() => {
    if (preview) drawing?.show(preview);
  }, [drawing, preview]);
  const millimetres = (label: PreviewLabel) => {
    const length = preview?.lengths.find((l) => l.name === label.text);
    return length ? format(1000 * Math.hypot(...length.to.map((t, i) => t - (length.from[i] ?? 0)))) : "";
  };
  return (
    <div className={cx("picture-frame")}>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="img"
        aria-label={`${name} in three dimensions; arrow keys turn it`}
        onKeyDown={(e) => {
          const turn = { ArrowLeft: [-TURN, 0], ArrowRight: [TURN, 0], ArrowUp: [0, TURN], ArrowDown: [0, -TURN] }[e.key];
          if (!turn) return;
          e.preventDefault();
          drawing?.turn(turn[0] ?? 0, turn[1] ?? 0);
        }}
      />
      {labels.map((l) => (
        <span key={l.text} className={cx("picture-label", "mono")} style={{ left: `${100 * l.x}%`, top: `${100 * l.y}%` }}>
          {millimetres(l)}
        </span>
      ))}
      <span className={cx("picture-unit")}>mm</span>
    </div>
  );
}
