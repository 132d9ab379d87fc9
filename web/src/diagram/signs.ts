import { setParameter } from "../state/edits";
import { useBench } from "../state/store";

/** Signs of a sum and powers of a product, edited on the part itself. */

const listOf: Record<string, { parameter: string; standard: string }> = {
  Sum: { parameter: "signs", standard: "{1, -1}" },
  Product: { parameter: "powers", standard: "{1, 1}" },
};

function entries(part: string): { parameter: string; items: string[] } | null {
  const node = useBench.getState().document.parts[part];
  const list = node && listOf[node.type];
  if (!node || !list) return null;
  const text = node.parameters[list.parameter] ?? list.standard;
  const inside = text.match(/^\s*\{(.*)\}\s*$/)?.[1];
  return inside === undefined ? null : { parameter: list.parameter, items: inside.split(",").map((s) => s.trim()) };
}

/** Turns the sign of one input round. */
export function toggleSign(part: string, port: string): void {
  const list = entries(part);
  const index = Number(port.match(/\[(\d+)\]/)?.[1]) - 1;
  const item = list?.items[index];
  if (!list || item === undefined) return;
  list.items[index] = item.startsWith("-") ? item.slice(1).trim() : `-${item.replace(/^\+/, "")}`;
  setParameter(part, list.parameter, `{${list.items.join(", ")}}`);
}

/** Adds an input at the end. */
export function addInput(part: string): void {
  const list = entries(part);
  if (list) setParameter(part, list.parameter, `{${[...list.items, "1"].join(", ")}}`);
}

export const hasSigns = (type: string) => type in listOf;
