import { useMemo, useRef } from "react";
import { useShallow } from "zustand/react/shallow";
import type { PartView } from "../api/client";
import { useBench } from "../state/bench";
import type { Diagram, Point } from "../state/document";
import { defaultView, portPlace, route, wiresBySource } from "./geometry";

export interface Shift {
  ids: ReadonlySet<string>;
  dx: number;
  dy: number;
}

/** Views of all parts: the server's, or the catalog's default until it has answered. */
export function usePartViews(): Record<string, PartView> {
  const { diagram, view, catalog } = useBench(useShallow((s) => ({ diagram: s.diagram, view: s.view, catalog: s.catalog })));
  return useMemo(() => {
    const result: Record<string, PartView> = {};
    for (const [id, node] of Object.entries(diagram.parts)) {
      const known = view.parts[id] as PartView | undefined;
      const part = catalog.get(node.type);
      if (known) result[id] = known;
      else if (part) result[id] = defaultView(part);
    }
    return result;
  }, [diagram.parts, view.parts, catalog]);
}

/** Routes of all wires; a route that stays the same stays the same object. */
export function useRoutes(views: Record<string, PartView>, shift: Shift | null): Map<string, Point[]> {
  const diagram = useBench((s) => s.diagram);
  const last = useRef<Map<string, Point[]>>(new Map());
  const routes = useMemo(() => routesOf(diagram, views, shift), [diagram, views, shift]);
  return useMemo(() => {
    const before = last.current;
    let changed = before.size !== routes.size;
    for (const [id, points] of routes) {
      const old = before.get(id);
      if (old && old.length === points.length && old.every((p, i) => p.x === points[i]?.x && p.y === points[i]?.y)) routes.set(id, old);
      else changed = true;
    }
    if (changed) last.current = routes;
    return last.current;
  }, [routes]);
}

/** Routes of all wires; those of shifted parts follow. Wires of equal way keep apart. */
export function routesOf(diagram: Diagram, views: Record<string, PartView>, shift: Shift | null): Map<string, Point[]> {
  const result = new Map<string, Point[]>();
  let lane = 0;
  for (const ids of wiresBySource(diagram.wires).values()) {
    lane = (lane + 1) % 4;
    for (const id of ids) {
      const w = diagram.wires[id];
      const [a, b] = [w && diagram.parts[w.from.part], w && diagram.parts[w.to.part]];
      const [va, vb] = [w && views[w.from.part], w && views[w.to.part]];
      if (!w || !a || !b || !va || !vb) continue;
      const moved = (part: string) => (shift?.ids.has(part) ? shift : { dx: 0, dy: 0 });
      const [sa, sb] = [moved(w.from.part), moved(w.to.part)];
      const from = portPlace({ ...a, x: a.x + sa.dx, y: a.y + sa.dy }, va, w.from.port);
      const to = portPlace({ ...b, x: b.x + sb.dx, y: b.y + sb.dy }, vb, w.to.port);
      const both = sa.dx === sb.dx && sa.dy === sb.dy;
      const bends = both && (sa.dx || sa.dy) ? w.bends.map((p) => ({ x: p.x + sa.dx, y: p.y + sa.dy })) : w.bends;
      result.set(id, route(from, to, bends, 8 * lane));
    }
  }
  return result;
}
