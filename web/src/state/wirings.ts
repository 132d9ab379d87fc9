import type { PartView } from "../api/client";
import { fits, leaves, portPlace } from "../canvas/geometry";
import type { Diagram, PortReference } from "./document";

/** A wire that could be laid, and how it is called. */
export interface Wiring {
  from: PortReference;
  to: PortReference;
  label: string;
  /** The part at the other end. */
  other: string;
  isFree: boolean;
}

/** Most that are offered at once. */
const MOST = 60;

const pair = (a: PortReference, b: PortReference) => `${a.part}.${a.port} ${b.part}.${b.port}`;

/** The wires that could be laid between a part and others: to free ports first, the nearest first. */
export function wiringsOf(
  { diagram, views }: { diagram: Pick<Diagram, "parts" | "wires">; views: Record<string, PartView> },
  part: string,
  among: readonly string[],
): Wiring[] {
  const [node, view] = [diagram.parts[part], views[part]];
  if (!node || !view) return [];
  const wired = new Set(Object.values(diagram.wires).map((w) => `${w.to.part}.${w.to.port}`));
  const laid = new Set(Object.values(diagram.wires).flatMap((w) => [pair(w.from, w.to), pair(w.to, w.from)]));
  const leaving = new Set(Object.values(diagram.wires).map((w) => `${w.from.part}.${w.from.port}`));
  const isTaken = (id: string, port: PartView["ports"][number]) => port.isInput && !port.domain && wired.has(`${id}.${port.name}`);
  const found: (Wiring & { distance: number; isLeaving: boolean })[] = [];
  for (const own of view.ports) {
    const at = portPlace(node, view, own.name);
    for (const id of among) {
      const [other, otherView] = [diagram.parts[id], views[id]];
      if (!other || !otherView || id === part) continue;
      for (const port of otherView.ports) {
        if (!fits(own, port) || laid.has(pair({ part, port: own.name }, { part: id, port: port.name }))) continue;
        const place = portPlace(other, otherView, port.name);
        const [mine, theirs] = [
          { part, port: own.name },
          { part: id, port: port.name },
        ];
        const isLeaving = leaves(own, port);
        found.push({
          from: isLeaving ? mine : theirs,
          to: isLeaving ? theirs : mine,
          label: `${own.name} ${isLeaving ? "to" : "from"} ${port.name} of ${other.name}`,
          other: other.name,
          // An output is free until it feeds something; an input until something feeds it.
          isFree: !isTaken(part, own) && !isTaken(id, port),
          isLeaving: isLeaving && !leaving.has(`${part}.${own.name}`),
          distance: Math.hypot(place.x - at.x, place.y - at.y),
        });
      }
    }
  }
  return found
    .sort((a, b) => Number(b.isFree) - Number(a.isFree) || Number(b.isLeaving) - Number(a.isLeaving) || a.distance - b.distance)
    .slice(0, MOST);
}
