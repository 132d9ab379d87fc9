import { useMemo, useRef } from "react";
import { useShallow } from "zustand/react/shallow";
import type { PartView } from "../../api/client";
import { RouteCache, type Routes, type Shift } from "../../canvas/routes";
import { useBench } from "../../state/bench";
import type { Diagram } from "../../state/document";

/** Views of all parts: the server's, or the catalog's until it has answered. */
export function usePartViews(): Record<string, PartView> {
  const { diagram, view, catalog } = useBench(useShallow((s) => ({ diagram: s.diagram, view: s.view, catalog: s.catalog })));
  return useMemo(() => {
    const result: Record<string, PartView> = {};
    for (const [id, node] of Object.entries(diagram.parts)) {
      const known = view.parts[id] as PartView | undefined;
      const part = catalog.get(node.type);
      if (known) result[id] = known;
      else if (part) result[id] = part.fresh;
    }
    return result;
  }, [diagram.parts, view.parts, catalog]);
}

/** Routes of wires; a route that stays the same stays the same object. */
export function useRoutes(parts: Diagram["parts"], wires: Diagram["wires"], views: Record<string, PartView>, shift: Shift | null): Routes {
  const cache = useRef<RouteCache>(null);
  return useMemo(() => {
    cache.current ??= new RouteCache();
    return cache.current.routes({ parts, wires }, views, shift);
  }, [parts, wires, views, shift]);
}
