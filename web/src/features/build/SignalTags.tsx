import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { told } from "../../ui/format";
import { useBench } from "../../state/bench";
import type { PartView } from "../../api/client";
import { probesOf, referenceOf, type PartNode, type Point } from "../../state/document";
import type { Visible } from "../../canvas/hitIndex";
import { signalColor } from "../../plots/colors";
import { freeBox, freeSide, middle, nameBox, textWidth, type Box } from "../../canvas/tagPlaces";
import type { Series } from "../../api/traces";
import { smallPath } from "../../plots/SmallCurve";
import { useSmallCurves } from "../../state/useSmallCurves";
import { SignalTag } from "../../canvas/Wires";

/** Where parts and the tabs with their names are. */
const partBoxes = (parts: Record<string, PartNode>, views: Record<string, PartView>): Box[] =>
  Object.entries(parts).flatMap(([id, node]) => {
    const view = views[id];
    if (!view) return [];
    const [width, height] = [view.width, view.height];
    const name: Box = { x: node.x + 6, y: node.y - 11, width: node.name.length * 5.6 + 12, height: 12 };
    return view.shape === "circle" ? [{ x: node.x, y: node.y, width, height }] : [{ x: node.x, y: node.y, width, height }, name];
  });

const none: readonly never[] = [];

/** Size of the curves on wires. */
const WIRE_CURVE = { width: 40, height: 14 };

/** How far along a curve an instant is, 0 to 1; null where it is none of its. */
function placeIn({ times }: Series, time: number | null): number | null {
  const [from, to] = [times[0] as number, times[times.length - 1] as number];
  return time === null || time < from || time > to ? null : (time - from) / (to - from || 1);
}

/** The boxes that a text beside a wire could meet. */
function near(points: readonly Point[], boxes: readonly Box[]): readonly Box[] {
  if (points.length === 0 || boxes.length === 0) return none;
  const [xs, ys] = [points.map((p) => p.x), points.map((p) => p.y)];
  const [left, right, top, bottom] = [Math.min(...xs) - 120, Math.max(...xs) + 120, Math.min(...ys) - 24, Math.max(...ys) + 24];
  return boxes.filter((b) => b.x < right && b.x + b.width > left && b.y < bottom && b.y + b.height > top);
}

/** Names, probes and values on the wires; apart from the diagram, which scrubbing does not touch. */
export function SignalTags({
  routes,
  sources: all,
  within,
}: {
  routes: ReadonlyMap<string, Point[]>;
  sources: ReadonlyMap<string, string[]>;
  /** What is mounted; null for all. */
  within: Visible | null;
}) {
  const { diagram, level, model, view, time, values } = useBench(
    useShallow((s) => ({ diagram: s.diagram, level: s.level, model: s.model, view: s.view, time: s.time, values: s.values })),
  );
  const probes = useMemo(() => probesOf(model).map((p) => p.reference), [model]);
  const withCurves = useBench((s) => s.wireCurves);
  const shown = time !== null || withCurves;
  const sources = useMemo(
    () => (within ? new Map([...all].filter(([, ids]) => ids.some((i) => within.wires.has(i)))) : all),
    [all, within],
  );
  const mainOf = (key: string, ids: readonly string[]) => {
    const wire = diagram.wires[ids[0] as string];
    const port = wire && view.parts[wire.from.part]?.ports.find((p) => p.name === wire.from.port);
    return referenceOf(level, port?.potential ?? key);
  };
  const curves = useSmallCurves(withCurves ? [...sources].map(([key, ids]) => mainOf(key, ids)) : none);
  const obstacles = useMemo(() => {
    const parts = within ? Object.fromEntries([...within.parts].map((id) => [id, diagram.parts[id] as PartNode])) : diagram.parts;
    const boxes = shown ? partBoxes(parts, view.parts) : none;
    return new Map([...sources].map(([key, ids]) => [key, near(routes.get(ids[0] as string) ?? [], boxes)]));
  }, [shown, diagram.parts, view.parts, routes, sources, within]);
  // Values keep clear of names and of each other; with very many of them that would cost more than it helps.
  const taken: Box[] = [];
  const crowded = sources.size > 300;
  return [...sources].map(([key, ids]) => {
    const wire = diagram.wires[ids[0] as string];
    const points = routes.get(ids[0] as string);
    const port = wire && view.parts[wire.from.part]?.ports.find((p) => p.name === wire.from.port);
    const owner = wire && view.parts[wire.from.part];
    // Of several ports along one edge the first ones keep to the left, so that values of neighbours do not meet.
    const edge = owner?.ports.filter((p) => port && p.side === port.side) ?? [];
    const leftwards = !!port && edge.length > 1 && edge.indexOf(port) < edge.length / 2 && (port.side === "top" || port.side === "bottom");
    const main = port?.potential ?? key;
    const signal = diagram.signals[main];
    const curve = withCurves ? curves.get(referenceOf(level, main)) : undefined;
    if (!points || (!signal && time === null && !curve)) return null;
    const valueOf = (k: string | null | undefined, size = false) => {
      const value = k && time !== null ? values.get(k) : undefined;
      return value === undefined ? "" : `${told(value, view.signals[k as string], size)} ${view.signals[k as string]?.unit ?? ""}`;
    };
    // A connection has a potential and, at the port it is drawn from, a flow; what flows into that part flows against the drawing.
    const several = port?.kind === "vector" ? (port.elements ?? []).map((k) => valueOf(k)).filter(Boolean) : [];
    const [value, flow] = [
      several.length > 3 ? `${several.slice(0, 3).join("; ")}; …` : several.length > 0 ? several.join("; ") : valueOf(main),
      valueOf(port?.flow, true),
    ];
    if (!signal && !value && !curve) return null;
    const name = signal?.name ?? "";
    const spot = middle(points, textWidth(name.length), 28);
    if (spot?.room && name) taken.push(nameBox(spot, textWidth(name.length)));
    const wide = textWidth(Math.max(value.length, flow.length + 2));
    const place = value ? middle(points, wide, 28 + (flow ? 14 : 0) + (name ? 14 : 0)) : null;
    const around = obstacles.get(key) ?? none;
    const found = place?.room
      ? freeSide(place, flow ? 2 : 1, wide, name !== "", leftwards, crowded ? around : [...around, ...taken])
      : null;
    if (found) taken.push(found.box);
    const room = curve && middle(points, WIRE_CURVE.width, WIRE_CURVE.height);
    const curveBox = room?.room ? freeBox(room, WIRE_CURVE, crowded ? around : [...around, ...taken]) : null;
    if (curveBox) taken.push(curveBox);
    return (
      <SignalTag
        key={key}
        name={name}
        color={signal?.probe !== undefined ? signalColor(probes.indexOf(referenceOf(level, main))) : null}
        value={value}
        flow={flow}
        spot={spot}
        place={place}
        side={found?.side ?? null}
        curve={curveBox && curve ? { ...curveBox, path: smallPath(curve, WIRE_CURVE), at: placeIn(curve, time) } : null}
        flowsOn={(values.get(port?.flow ?? "") ?? 0) <= 0}
      />
    );
  });
}
