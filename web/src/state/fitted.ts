import type { Schemas } from "../api/client";
import { notify, select, useBench } from "./bench";
import { freeName, newId, type Operation } from "./document";
import { edit, here } from "./model";

const BELOW = 128;

/** Numbers as a field takes a row of them. */
export const row = (values: readonly (number | string)[]): string => `{${values.map(Number).join(", ")}}`;

/** A part below all others of the level. */
function partBelow(id: string, type: string, title: string, x: number, parameters: Record<string, string>): Operation {
  const { diagram } = useBench.getState();
  const y = Math.max(0, ...Object.values(diagram.parts).map((p) => p.y)) + BELOW;
  const value = { type, name: freeName(diagram, title), x, y, flip: false, turn: 0, parameters };
  return { op: "add", path: here("parts", id), value };
}

const LEFT = 32;

/** Places a designed part below the level's parts. */
export function placePart(type: string, title: string, parameters: Record<string, string>, what: string): void {
  const id = newId("p");
  edit(`Place ${title.toLowerCase()}`, [partBelow(id, type, title, LEFT, parameters)]);
  select([id]);
  notify(`${what} stands below the other parts on the diagram.`);
}

/** Places a fitted transfer function below the level's parts, its dead time behind it. */
export function placeModel(fit: Schemas["FitAnswer"]): void {
  const [model, delay] = [newId("p"), newId("p")];
  const operations = [partBelow(model, "TransferFunction", "Fitted model", LEFT, { b: row(fit.numerator), a: row(fit.denominator) })];
  const hasDelay = Number(fit.delay) > 0;
  if (hasDelay)
    operations.push(partBelow(delay, "DeadTime", "Fitted dead time", LEFT + 160, { T: `${Number(fit.delay)} s` }), {
      op: "add",
      path: here("wires", newId("w")),
      value: { from: { part: model, port: "y" }, to: { part: delay, port: "u" }, bends: [] },
    });
  edit("Place the fitted model", operations);
  select(hasDelay ? [model, delay] : [model]);
  notify("The fitted model stands below the other parts on the diagram.");
}
