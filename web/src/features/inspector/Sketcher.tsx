import classNames from "classnames/bind";
import { Button, Input, Modal, Segmented, Switch } from "antd";
import { useRef, useState } from "react";
import { FRAME, StrokeShape, type Stroke } from "../../ui/Drawing";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

type Kind = Stroke["kind"];
type Place = Stroke["points"][number];

const kinds: { value: Kind | "choose"; label: string }[] = [
  { value: "choose", label: "Choose" },
  { value: "line", label: "Line" },
  { value: "rectangle", label: "Rectangle" },
  { value: "ellipse", label: "Ellipse" },
  { value: "arc", label: "Arc" },
  { value: "text", label: "Text" },
];

/** How many points a stroke takes; a line goes on until it is ended. */
const wanted: Record<Kind, number> = { line: Infinity, rectangle: 2, ellipse: 2, arc: 3, text: 1 };

const GRID = 4;
const snap = (v: number) => Math.round(v / GRID) * GRID;

const hints: Record<Kind | "choose", string> = {
  choose: "Click a stroke to choose it; arrow keys move it, Delete takes it away.",
  line: "Click from corner to corner; click the last one again, or press Enter, to end.",
  rectangle: "Click two corners.",
  ellipse: "Click two corners of the frame around it.",
  arc: "Click its start, a point on it, and its end.",
  text: "Type the text, then click where it begins. <<name>> stands for the value of a parameter.",
};

interface Props {
  before: readonly Stroke[];
  onDone: (strokes: Stroke[]) => void;
  onCancel: () => void;
}

/** Draws the symbol of a subsystem: a few strokes on a grid. */
export function Sketcher({ before, onDone, onCancel }: Props) {
  const [strokes, setStrokes] = useState<readonly Stroke[]>(before);
  const [past, setPast] = useState<readonly (readonly Stroke[])[]>([]);
  const [kind, setKind] = useState<Kind | "choose">("line");
  const [points, setPoints] = useState<readonly Place[]>([]);
  const [at, setAt] = useState<Place>({ x: FRAME.width / 2, y: FRAME.height / 2 });
  const [text, setText] = useState("");
  const [isFilled, setFilled] = useState(false);
  const [chosen, setChosen] = useState<number | null>(null);
  const svg = useRef<SVGSVGElement>(null);

  const change = (next: readonly Stroke[]) => {
    setPast([...past, strokes]);
    setStrokes(next);
  };
  const undo = () => {
    const last = past[past.length - 1];
    if (points.length > 0) return setPoints([]);
    if (!last) return;
    setPast(past.slice(0, -1));
    setStrokes(last);
    setChosen(null);
  };
  const finish = (all: readonly Place[]) => {
    setPoints([]);
    if (kind === "choose" || (kind === "line" && all.length < 2)) return;
    change([...strokes, { kind, points: [...all], isFilled, ...(kind === "text" ? { text } : {}) }]);
  };
  const click = (place: Place) => {
    if (kind === "choose" || (kind === "text" && text.trim() === "")) return;
    const last = points[points.length - 1];
    if (last && last.x === place.x && last.y === place.y) return kind === "line" ? finish(points) : undefined;
    const all = [...points, place];
    if (all.length >= wanted[kind]) finish(all);
    else setPoints(all);
  };
  const placeOf = (e: React.PointerEvent): Place => {
    const box = (svg.current as SVGSVGElement).getBoundingClientRect();
    return {
      x: snap(((e.clientX - box.left) / box.width) * FRAME.width),
      y: snap(((e.clientY - box.top) / box.height) * FRAME.height),
    };
  };
  const key = (e: React.KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (by) {
      e.preventDefault();
      const [dx, dy] = [(by[0] as number) * GRID, (by[1] as number) * GRID];
      const stroke = chosen === null ? undefined : strokes[chosen];
      if (kind === "choose" && stroke)
        change(strokes.map((s, i) => (i === chosen ? { ...s, points: s.points.map((p) => ({ x: p.x + dx, y: p.y + dy })) } : s)));
      else setAt({ x: Math.min(FRAME.width, Math.max(0, at.x + dx)), y: Math.min(FRAME.height, Math.max(0, at.y + dy)) });
    } else if (e.key === " ") {
      e.preventDefault();
      click(at);
    } else if (e.key === "Enter" && points.length > 1) finish(points);
    else if ((e.key === "Delete" || e.key === "Backspace") && chosen !== null) {
      change(strokes.filter((_, i) => i !== chosen));
      setChosen(null);
    } else if (e.key === "Escape" && points.length > 0) {
      e.stopPropagation();
      setPoints([]);
    } else if (e.key === "z" && (e.ctrlKey || e.metaKey)) undo();
  };

  const draft: Stroke | null =
    kind !== "choose" && points.length > 0
      ? { kind: kind === "arc" && points.length < 2 ? "line" : kind, points: [...points, at], isFilled: false }
      : null;
  return (
    <Modal
      open
      title="Draw the symbol"
      width={620}
      okText="Use this symbol"
      onOk={() => onDone([...strokes])}
      okButtonProps={{ disabled: strokes.length === 0 }}
      onCancel={onCancel}
      keyboard={points.length === 0}
    >
      <div className={cx("sketch-tools")}>
        <Segmented
          size="small"
          options={kinds}
          value={kind}
          onChange={(k) => {
            setKind(k);
            setPoints([]);
            setChosen(null);
          }}
        />
        <label>
          <Switch size="small" checked={isFilled} onChange={setFilled} aria-label="Filled" /> filled
        </label>
        <Button size="small" disabled={past.length === 0 && points.length === 0} onClick={undo}>
          Undo
        </Button>
        <Button size="small" disabled={strokes.length === 0} onClick={() => change([])}>
          Clear
        </Button>
      </div>
      {kind === "text" && (
        <Input size="small" aria-label="Text to place" placeholder="Text" value={text} onChange={(e) => setText(e.target.value)} />
      )}
      <p className="quiet">{hints[kind]}</p>
      <svg
        ref={svg}
        className={cx("sketch-ground")}
        viewBox={`0 0 ${FRAME.width} ${FRAME.height}`}
        tabIndex={0}
        role="application"
        aria-label="Drawing ground. Arrow keys move the pen, Space sets a point, Enter ends a line."
        onPointerMove={(e) => setAt(placeOf(e))}
        onPointerDown={(e) => {
          if (kind === "choose") {
            const hit = (e.target as Element).closest<SVGGElement>("[data-stroke]");
            setChosen(hit ? Number(hit.dataset.stroke) : null);
          } else click(placeOf(e));
        }}
        onKeyDown={key}
      >
        <defs>
          <pattern id="sketch-grid" width={GRID} height={GRID} patternUnits="userSpaceOnUse">
            <circle cx="0" cy="0" r="0.35" fill="var(--dashes)" />
          </pattern>
        </defs>
        <rect width={FRAME.width} height={FRAME.height} fill="url(#sketch-grid)" />
        {strokes.map((s, i) => (
          <g key={i} data-stroke={i} className={cx("sketch-stroke", { chosen: i === chosen })}>
            <StrokeShape stroke={s} />
          </g>
        ))}
        {draft && (
          <g className={cx("sketch-draft")}>
            <StrokeShape stroke={draft} />
          </g>
        )}
        {kind !== "choose" && <circle cx={at.x} cy={at.y} r="1.2" fill="var(--buoy)" />}
      </svg>
    </Modal>
  );
}
