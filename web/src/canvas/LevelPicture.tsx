import type { ReactNode } from "react";
import type { PartView } from "../api/client";
import type { Diagram, PartNode } from "../state/document";
import { StrokeShape, FRAME } from "../ui/Drawing";
import { drawings } from "../ui/symbols";
import { domainColor, tokens } from "../ui/tokens";
import { boundsOf, branchPoints, pathData, portOffset, wiresBySource } from "./geometry";
import { middle, textWidth } from "./tagPlaces";
import { strandsOf, type Strand } from "./strands";
import type { Routes } from "./routes";

/** How something is set off: as it differs between two states. */
export type Mark = "added" | "removed" | "changed" | "moved";

export const markColor: Record<Mark, string> = {
  added: tokens.met,
  removed: tokens.missed,
  changed: tokens.caution,
  moved: tokens.edge,
};

interface Props {
  diagram: Diagram;
  views: Record<string, PartView>;
  routes: Routes;
  /** Marks of parts, wires, areas and notes by their ids. */
  marks?: ReadonlyMap<string, Mark>;
  /** What stands on a plate, in a frame of the given size with its corner at the origin. */
  face: (view: PartView, width: number, height: number) => ReactNode;
  /** The language of a note's mathematics is not drawn here; what stands for it. */
  note?: (text: string) => string;
  onPick?: (id: string) => void;
  /** The part of the level that is seen; all of it without. */
  frame?: { x: number; y: number; width: number; height: number };
  /** What is drawn on top, in the diagram's places. */
  children?: ReactNode;
}

const MARGIN = 32;

/** The frame around all of a level. */
export function frameOf(diagram: Diagram, views: Record<string, PartView>, routes: Routes) {
  const boxes = [
    ...Object.entries(diagram.parts).flatMap(([id, p]) => {
      const v = views[id];
      return v ? [{ left: p.x, top: p.y - 14, right: p.x + v.width, bottom: p.y + v.height }] : [];
    }),
    ...Object.values(diagram.areas).map((a) => ({ left: a.x, top: a.y, right: a.x + a.width, bottom: a.y + a.height })),
    ...Object.values(diagram.notes).map((n) => ({ left: n.x, top: n.y, right: n.x + 8 + 6 * longest(n.text ?? ""), bottom: n.y + 18 })),
    ...[...routes.values()].flatMap((points) => points.map((p) => ({ left: p.x, top: p.y, right: p.x, bottom: p.y }))),
  ];
  if (boxes.length === 0) return { x: 0, y: 0, width: 320, height: 200 };
  const b = boundsOf(boxes.map((k) => ({ x: k.left, y: k.top, width: k.right - k.left, height: k.bottom - k.top })));
  return { x: b.x - MARGIN, y: b.y - MARGIN, width: b.width + 2 * MARGIN, height: b.height + 2 * MARGIN };
}

const longest = (text: string) => Math.max(...text.split("\n").map((l) => l.length));

/** Room along an upright stretch that a line of text beside it needs. */
const LINE_HEIGHT = 28;

const text = { fontFamily: "IBM Plex Sans, sans-serif", fill: tokens.ink } as const;

/** A level as one drawing that stands by itself: nothing in it leans on the page's styles. */
export function LevelPicture({ diagram, views, routes, marks, face, note, onPick, frame, children }: Props) {
  const f = frame ?? frameOf(diagram, views, routes);
  const colorOf = (id: string, usual: string) => {
    const mark = marks?.get(id);
    return mark ? markColor[mark] : usual;
  };
  const sources = wiresBySource(diagram.wires);
  return (
    <svg xmlns="http://www.w3.org/2000/svg" viewBox={`${f.x} ${f.y} ${f.width} ${f.height}`} width={f.width} height={f.height}>
      <rect x={f.x} y={f.y} width={f.width} height={f.height} fill={tokens.surface} />
      {Object.entries(diagram.areas).map(([id, a]) => (
        <g key={id} onClick={() => onPick?.(id)}>
          <rect
            x={a.x}
            y={a.y}
            width={a.width}
            height={a.height}
            rx="8"
            fill={tones[a.tone ?? "plain"]}
            stroke={colorOf(id, tokens.dashes)}
            strokeDasharray="3 3"
          />
          <text x={a.x + a.width - 10} y={a.y + a.height - 8} fontSize="11" textAnchor="end" {...text} fill={tokens.quiet}>
            {a.text}
          </text>
        </g>
      ))}
      {[...routes].map(([id, points]) => {
        const wire = diagram.wires[id];
        const port = wire && views[wire.from.part]?.ports.find((p) => p.name === wire.from.port);
        if (!wire || points.length < 2) return null;
        const isLeftOut = views[wire.from.part]?.leftOut || views[wire.to.part]?.leftOut;
        const d = pathData(points);
        const color = colorOf(id, domainColor(port?.domain));
        const isDouble = port?.kind === "bundle" || ["hydraulic", "fluid", "plane"].includes(port?.domain ?? "");
        return (
          <g key={id} fill="none" opacity={isLeftOut ? 0.3 : 1} onClick={() => onPick?.(id)}>
            <path
              d={d}
              stroke={color}
              strokeWidth={(isDouble ? 4 : port?.domain ? 2.2 : port?.kind === "vector" ? 1.9 : 1.25) + (marks?.get(id) ? 1 : 0)}
              strokeDasharray={
                port?.kind === "boolean"
                  ? "5 3"
                  : port?.domain === "rotational"
                    ? "9 3 2 3"
                    : port?.domain === "thermal"
                      ? "2.5 2.5"
                      : undefined
              }
            />
            {isDouble && <path d={d} stroke={tokens.surface} strokeWidth="1.6" />}
            {!port?.domain && port?.kind !== "bundle" && <Arrow points={points} color={color} />}
          </g>
        );
      })}
      {[...sources].flatMap(([key, ids]) =>
        ids.length < 2
          ? []
          : branchPoints(ids.map((i) => routes.get(i) ?? []).filter((r) => r.length > 1)).map((d) => {
              const wire = diagram.wires[ids[0] as string];
              const domain = wire && views[wire.from.part]?.ports.find((p) => p.name === wire.from.port)?.domain;
              return <circle key={`${key}${d.x},${d.y}`} cx={d.x} cy={d.y} r="2.6" fill={domainColor(domain)} />;
            }),
      )}
      {Object.entries(diagram.parts).map(([id, node]) => {
        const view = views[id];
        return view ? (
          <PartShape
            key={id}
            node={node}
            view={view}
            color={colorOf(id, tokens.edge)}
            isMarked={marks?.has(id) ?? false}
            face={face}
            onPick={() => onPick?.(id)}
          />
        ) : null;
      })}
      {Object.entries(diagram.signals).map(([key, signal]) => {
        if (!signal.name) return null;
        const wire = Object.entries(diagram.wires).find(([, w]) => `${w.from.part}.${w.from.port}` === key);
        const points = wire && routes.get(wire[0]);
        // Where it stands on the page, too: on a stretch that is long enough for it.
        const spot = points && middle(points, textWidth(signal.name.length), LINE_HEIGHT);
        return spot?.room ? (
          <text
            key={key}
            x={spot.vertical ? spot.x + 7 : spot.x}
            y={spot.vertical ? spot.y + 3 : spot.y - 6}
            fontSize="10.5"
            textAnchor={spot.vertical ? "start" : "middle"}
            {...text}
            fill={tokens.quiet}
          >
            {signal.name}
          </text>
        ) : null;
      })}
      {Object.entries(diagram.notes).map(([id, n]) => (
        <text key={id} x={n.x + 8} y={n.y + 13} fontSize="12" {...text} fill={colorOf(id, tokens.ink)}>
          {(note ? note(n.text ?? "") : (n.text ?? "")).split("\n").map((line, i) => (
            <tspan key={i} x={n.x + 8} dy={i === 0 ? 0 : 16}>
              {line}
            </tspan>
          ))}
        </text>
      ))}
      {children}
    </svg>
  );
}

const tones: Record<string, string> = { plain: "#faf9f5", sea: "#e9f1f5", kelp: "#ebf2ea", sand: "#f7f1e0", shell: "#f6ebe8" };

function Arrow({ points, color }: { points: readonly { x: number; y: number }[]; color: string }) {
  const b = points[points.length - 1] as { x: number; y: number };
  const a = points[points.length - 2] as { x: number; y: number };
  const angle = (Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI;
  return <path d="M-7 -3.2L0 0L-7 3.2Z" fill={color} transform={`translate(${b.x} ${b.y}) rotate(${angle})`} />;
}

interface PartShapeProps {
  node: PartNode;
  view: PartView;
  color: string;
  isMarked: boolean;
  face: Props["face"];
  onPick: () => void;
}

function PartShape({ node, view, color, isMarked, face, onPick }: PartShapeProps) {
  const { width, height } = view;
  const stroke = {
    stroke: color,
    strokeWidth: isMarked ? 2.5 : 1,
    fill: tokens.surface,
    strokeDasharray: view.leftOut ? "3 3" : undefined,
  };
  // Beside what leaves at the top.
  const hasTop = view.ports.some((p) => portOffset(view, p.name, node).side === "top");
  const isNamed = view.opens || view.symbol === "subsystem";
  const strands = strandsOf(view, node);
  return (
    <g transform={`translate(${node.x} ${node.y})`} opacity={view.leftOut ? 0.45 : 1} onClick={onPick}>
      {view.slot && <rect x="4" y="4" width={width} height={height} rx="3" {...stroke} />}
      {view.shape === "circle" ? (
        <circle cx={width / 2} cy={height / 2} r={width / 2} {...stroke} />
      ) : (
        <rect width={width} height={height} rx="3" {...stroke} />
      )}
      {strands ? (
        strands.map((s) => (
          <g key={s.name}>
            <path d={s.path} fill="none" stroke={tokens.ink} strokeWidth="1" />
            <text {...besideEdge(s)} fontSize="10" {...text}>
              {s.label}
            </text>
          </g>
        ))
      ) : view.drawing?.sketch ? (
        <svg
          x={(width - FRAME.width) / 2}
          y={(height - FRAME.height) / 2}
          width={FRAME.width}
          height={FRAME.height}
          viewBox={`0 0 ${FRAME.width} ${FRAME.height}`}
          fill="none"
        >
          {view.drawing.sketch.map((s, i) => (
            <StrokeShape key={i} stroke={s} />
          ))}
        </svg>
      ) : view.drawing?.picture ? (
        <image href={view.drawing.picture} x={4} y={4} width={width - 8} height={height - 8} />
      ) : view.slot && view.symbol === "subsystem" ? (
        <text x={width / 2} y={height / 2 + 4} fontSize="10.5" textAnchor="middle" {...text}>
          {view.slot.present}
        </text>
      ) : view.symbol ? (
        <SymbolShape name={view.symbol} width={width} height={height} />
      ) : (
        face(view, width, height)
      )}
      <text x={view.shape === "circle" ? width + 2 : hasTop ? width - 8 : 6} y={-4} fontSize="10.5" {...text}>
        {node.name}
      </text>
      {view.ports.map((p) => {
        const o = portOffset(view, p.name, node);
        return (
          <g key={p.name}>
            {p.domain ? (
              <rect x={o.x - 3} y={o.y - 3} width="6" height="6" rx="1.5" fill={domainColor(p.domain)} />
            ) : (
              <circle cx={o.x} cy={o.y} r="1.8" fill={tokens.surface} stroke={tokens.edge} />
            )}
            {isNamed && (
              <text
                x={o.side === "left" ? 7 : o.side === "right" ? width - 7 : o.x}
                y={o.side === "top" ? 13 : o.side === "bottom" ? height - 6 : o.y + 3}
                fontSize="9"
                textAnchor={o.side === "left" ? "start" : o.side === "right" ? "end" : "middle"}
                {...text}
                fill={tokens.quiet}
              >
                {p.name}
              </text>
            )}
            {p.sign && (
              <text
                x={o.x + (o.side === "left" ? -9 : o.side === "right" ? 9 : 8)}
                y={o.y + (o.side === "bottom" ? 12 : -5)}
                fontSize="11"
                textAnchor="middle"
                {...text}
              >
                {p.sign}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

/** Where a member's name stands: inside the edge that it is at. */
const besideEdge = ({ x, y, side }: Strand) =>
  side === "left" || side === "right"
    ? { x: side === "left" ? 8 : x - 8, y: y + 3.5, textAnchor: side === "left" ? ("start" as const) : ("end" as const) }
    : { x, y: side === "top" ? 14 : y - 7, textAnchor: "middle" as const };

function SymbolShape({ name, width, height }: { name: string; width: number; height: number }) {
  const drawing = drawings[name] ?? { lines: "M4 15H36" };
  return (
    <g transform={`translate(${(width - 40) / 2} ${(height - 30) / 2})`} fill="none">
      {drawing.axes && <path d="M3 15H37M20 3V27" stroke={tokens.line} strokeWidth="1" />}
      <path d={drawing.lines} stroke={tokens.ink} strokeWidth="1.4" strokeLinejoin="round" />
      {drawing.dashed && <path d={drawing.dashed} stroke={tokens.ink} strokeWidth="1.1" strokeDasharray="2 2" />}
      {drawing.fill && <path d={drawing.fill} fill={tokens.ink} />}
    </g>
  );
}
