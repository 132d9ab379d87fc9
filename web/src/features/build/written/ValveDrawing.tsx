import classNames from "classnames/bind";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { useShallow } from "zustand/react/shallow";
import { select, useBench } from "../../../state/bench";
import type { Valve, ValvePath } from "../../../state/document";
import { inOrder } from "../../../state/tables";
import { joinPorts } from "../../../state/valves";
import { actuatorOf, END, headOf, HEIGHT, isTop, lineOf, markOf, placeOf, springOf, SQUARE, squaresOf, TOP, widthOf } from "./valveShape";
import styles from "./valve.module.css";

const cx = classNames.bind(styles);

interface Held {
  position: string;
  port: string;
  x: number;
  y: number;
}

/** The symbol of a valve: paths are drawn by dragging from port to port of a position. */
export function ValveDrawing({ valve, kind }: { valve: Valve; kind: ValvePath["kind"] }) {
  const { view, selection, stroke } = useBench(
    useShallow((s) => ({ view: s.view.valve, selection: s.selection, stroke: s.time === null ? undefined : s.values.get("stroke") })),
  );
  const svg = useRef<SVGSVGElement>(null);
  const [held, show] = useState<Held | null>(null);
  // A quick hand lifts before what it pressed is drawn.
  const hand = useRef<Held | null>(null);
  const setHeld = (next: Held | null) => {
    hand.current = next;
    show(next);
  };
  const [over, setOver] = useState<string | null>(null);
  const along = (view?.along ?? {}) as Record<string, number>;
  const squares = squaresOf(valve);
  const name = (port: string) => valve.ports[port]?.name ?? "?";
  const at = (e: PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    return box ? { x: ((e.clientX - box.left) / box.width) * widthOf(valve), y: ((e.clientY - box.top) / box.height) * HEIGHT } : null;
  };
  const end = (e: PointerEvent) => {
    const from = hand.current;
    const under = document.elementFromPoint(e.clientX, e.clientY)?.closest<SVGElement>("[data-port]")?.dataset;
    if (from && under?.position === from.position && under.port && under.port !== from.port)
      joinPorts(from.position, from.port, under.port, kind);
    else if (from && under?.port === from.port) return;
    setHeld(null);
    setOver(null);
  };
  const press = (e: KeyboardEvent, position: string, port: string, x: number) => {
    if (e.key !== "Enter" && e.key !== " ") return;
    e.preventDefault();
    if (held?.position === position && held.port !== port) {
      joinPorts(position, held.port, port, kind);
      setHeld(null);
    } else setHeld({ position, port, ...placeOf(valve, along, x, port) });
  };
  const right = END + squares.length * SQUARE;
  const places = (view?.places ?? {}) as Record<string, number>;
  const spots = inOrder(valve.positions).map(([id]) => Number(places[id] ?? 0));
  const [low, high] = [spots[0] ?? 0, spots[spots.length - 1] ?? 0];
  const onAxis = (z: number) => END + SQUARE / 2 + (high > low ? ((z - low) / (high - low)) * (squares.length - 1) * SQUARE : 0);
  const axis = TOP + SQUARE + 62;
  return (
    <svg
      ref={svg}
      className={cx("drawing")}
      viewBox={`0 0 ${widthOf(valve)} ${HEIGHT}`}
      aria-label={`Symbol of ${valve.name}`}
      onPointerMove={(e) => {
        const from = hand.current;
        const place = from && at(e);
        if (from && place) setHeld({ ...from, ...place });
      }}
      onPointerUp={end}
      onPointerLeave={() => (setHeld(null), setOver(null))}
      onKeyDown={(e) => e.key === "Escape" && setHeld(null)}
    >
      {([-1, 1] as const).map((way) => {
        const x = way < 0 ? END : right;
        const shape = actuatorOf(valve, x, way);
        return (
          <g key={way} className={cx("ends")}>
            <path d={shape.lines + springOf(x, way, TOP + SQUARE - 32)} />
            <path d={shape.fill} className={cx("filled")} />
          </g>
        );
      })}
      {squares.map(({ id, x }) => {
        const position = valve.positions[id];
        if (!position) return null;
        const used = new Set(Object.values(position.paths).flatMap((p) => [p.from, p.to]));
        return (
          <g key={id} className={cx("position", { chosen: selection.has(id), neutral: valve.neutral === id })}>
            <rect x={x} y={TOP} width={SQUARE} height={SQUARE} onClick={() => select([id])} />
            <text x={x + SQUARE / 2} y={TOP - 40} onClick={() => select([id])}>
              {position.name}
            </text>
            {inOrder(valve.ports)
              .filter(([port]) => !used.has(port))
              .map(([port]) => {
                const p = placeOf(valve, along, x, port);
                const way = isTop(valve, port) ? 1 : -1;
                return <path key={port} className={cx("closed")} d={`M${p.x} ${p.y}v${way * 24}M${p.x - 11} ${p.y + way * 24}h22`} />;
              })}
            {inOrder(position.paths).map(([path, node]) => {
              const [from, to] = [placeOf(valve, along, x, node.from), placeOf(valve, along, x, node.to)];
              const line = lineOf(from, to);
              return (
                <g
                  key={path}
                  className={cx("path", { chosen: selection.has(path) })}
                  role="button"
                  tabIndex={0}
                  aria-label={`Path ${view?.paths[path]?.way ?? ""} in ${position.name}`}
                  onClick={() => select([path])}
                  onKeyDown={(e) => e.key === "Enter" && select([path])}
                >
                  <path className={cx("grip")} d={line.d} />
                  <path d={line.d} />
                  <path d={markOf(node.kind, line.middle)} className={cx("mark")} />
                  <path d={headOf(line.before, to)} className={cx("filled")} />
                </g>
              );
            })}
            {inOrder(valve.ports).map(([port]) => {
              const p = placeOf(valve, along, x, port);
              const begins = held?.position === id && held.port === port;
              return (
                <circle
                  key={port}
                  className={cx("dot", { begins, over: held?.position === id && over === port })}
                  cx={p.x}
                  cy={p.y}
                  r={7}
                  data-position={id}
                  data-port={port}
                  role="button"
                  tabIndex={0}
                  aria-label={`${name(port)} in ${position.name}`}
                  aria-pressed={begins}
                  onPointerDown={(e) => {
                    e.preventDefault();
                    setHeld({ position: id, port, ...p });
                  }}
                  onPointerEnter={() => held?.position === id && setOver(port)}
                  onPointerOut={() => setOver(null)}
                  onKeyDown={(e) => press(e, id, port, x)}
                />
              );
            })}
          </g>
        );
      })}
      {squares
        .filter(({ id }) => id === valve.neutral)
        .flatMap(({ x }) =>
          inOrder(valve.ports).map(([port]) => {
            const p = placeOf(valve, along, x, port);
            const y = isTop(valve, port) ? TOP - 14 : TOP + SQUARE + 14;
            return (
              <g key={port} className={cx("port", { chosen: selection.has(port) })} onClick={() => select([port])}>
                <path d={`M${p.x} ${isTop(valve, port) ? p.y - 8 : p.y + 8}V${y}`} />
                <circle cx={p.x} cy={isTop(valve, port) ? y - 9 : y + 9} r={10} />
                <text x={p.x} y={isTop(valve, port) ? y - 5 : y + 13}>
                  {name(port)}
                </text>
              </g>
            );
          }),
        )}
      {held && (
        <path
          className={cx("held")}
          d={`M${placeOf(valve, along, squares.find((s) => s.id === held.position)?.x ?? 0, held.port).x} ${
            placeOf(valve, along, 0, held.port).y
          }L${held.x} ${held.y}`}
        />
      )}
      <g className={cx("axis")}>
        <path d={`M${onAxis(low)} ${axis}H${onAxis(high)}${spots.map((z) => `M${onAxis(z)} ${axis - 5}v10`).join("")}`} />
        {spots.map((z) => (
          <text key={z} x={onAxis(z)} y={axis + 19}>
            {z > 0 ? `+${Math.round(z * 100) / 100}` : Math.round(z * 100) / 100}
          </text>
        ))}
        {stroke !== undefined && <path className={cx("now")} d={`M${onAxis(stroke)} ${axis - 3}l-6 -10h12z`} />}
      </g>
    </svg>
  );
}
