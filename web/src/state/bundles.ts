import { api, ask, type Schemas } from "../api/client";
import { freePlace } from "../canvas/freePlace";
import { notifyError, select, useBench } from "./bench";
import { freeName, memberName, newId, type Operation, type PortReference } from "./document";
import { edit, here, queueIdle } from "./model";

/** Bundles of named signals as edits. */

/** The sources of what is selected: of wires where they come from, of parts their outputs. */
function sources(): PortReference[] {
  const { selection, diagram, view } = useBench.getState();
  const found: PortReference[] = [];
  const add = (p: PortReference) => {
    if (!found.some((f) => f.part === p.part && f.port === p.port)) found.push(p);
  };
  for (const id of selection) {
    const wire = diagram.wires[id];
    if (wire) add(wire.from);
    for (const port of view.parts[id]?.ports ?? []) if (!port.isInput && !port.domain) add({ part: id, port: port.name });
  }
  return found.filter((p) => !view.parts[p.part]?.ports.find((q) => q.name === p.port)?.domain);
}

export const canJoin = (): boolean => sources().length > 1;

/** Joins the selected signals to a bundle, each under its name. */
export function joinSelected(): void {
  const { diagram, view, catalog } = useBench.getState();
  const from = sources();
  const join = [...catalog.values()].find(
    (p) => p.group !== "Ports" && p.fresh.shape === "bar" && p.fresh.ports.some((q) => q.name === "bundle" && !q.isInput),
  );
  if (!join || from.length < 2) return;
  const taken = new Set<string>();
  const members = from.map((p) => {
    const name = memberName(diagram.signals[`${p.part}.${p.port}`]?.name ?? diagram.parts[p.part]?.name ?? p.port, taken);
    taken.add(name);
    return name;
  });
  const right = Math.max(...from.map((p) => (diagram.parts[p.part]?.x ?? 0) + (view.parts[p.part]?.width ?? 0)));
  const top = Math.min(...from.map((p) => diagram.parts[p.part]?.y ?? 0));
  const lying = Object.entries(diagram.parts).flatMap(([id, p]) => {
    const v = view.parts[id];
    return v ? [{ x: p.x, y: p.y, width: v.width, height: v.height }] : [];
  });
  const place = freePlace({ x: right + 64, y: top, width: 96, height: 16 * (members.length + 1) }, lying);
  const id = newId("p");
  const node = {
    type: join.name,
    name: freeName(diagram, join.title),
    ...{ x: place.x, y: place.y },
    parameters: { members: members.join(", ") },
  };
  edit("Join to a bundle", [
    { op: "add", path: here("parts", id), value: node },
    ...from.map((p, i): Operation => ({
      op: "add",
      path: here("wires", newId("w")),
      value: { from: p, to: { part: id, port: members[i] }, bends: [] },
    })),
  ]);
  select([id]);
}

/** Where a member would be renamed, in words. */
export async function placesOfMember(part: string, member: string, to: string): Promise<string[] | null> {
  await queueIdle();
  const { id, level } = useBench.getState();
  const change: Schemas["Restructuring"] = { kind: "renameMember", level, part, member, to };
  try {
    const levels = await ask(api.POST("/api/models/{id}/structure/preview", { params: { path: { id } }, body: { change } }));
    return levels.flatMap((l) => l.differences.filter((d) => d.what === "part").map((d) => (l.name ? `${d.name} in ${l.name}` : d.name)));
  } catch (e) {
    notifyError((e as Error).message);
    return null;
  }
}
