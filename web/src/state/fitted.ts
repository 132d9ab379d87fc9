import type { Schemas } from "../api/client";
import { notify, select, useBench } from "./bench";
import { freeName, newId, type Operation } from "./document";
import { edit, here } from "./model";

const BELOW = 64;

/** Numbers as a field takes a row of them. */
export const row = (values: readonly (number | string)[]): string => `{${values.map(Number).join(", ")}}`;

/** Places a fitted transfer function below the level's parts, its dead time behind it. */
export function placeModel(fit: Schemas["FitAnswer"]): void {
  const { diagram } = useBench.getState();
  const y = Math.max(0, ...Object.values(diagram.parts).map((p) => p.y)) + BELOW * 2;
  const part = (id: string, type: string, title: string, x: number, parameters: Record<string, string>): Operation => ({
    op: "add",
    path: here("parts", id),
    value: { type, name: freeName(diagram, title), x, y, flip: false, turn: 0, parameters },
  });
  const [model, delay] = [newId("p"), newId("p")];
  const operations = [part(model, "TransferFunction", "Fitted model", 32, { b: row(fit.numerator), a: row(fit.denominator) })];
  const hasDelay = Number(fit.delay) > 0;
  if (hasDelay)
    operations.push(part(delay, "DeadTime", "Fitted dead time", 192, { T: `${Number(fit.delay)} s` }), {
      op: "add",
      path: here("wires", newId("w")),
      value: { from: { part: model, port: "y" }, to: { part: delay, port: "u" }, bends: [] },
    });
  edit("Place the fitted model", operations);
  select(hasDelay ? [model, delay] : [model]);
  notify("The fitted model stands below the other parts on the diagram.");
}
