import type { CatalogPart, ModelView, Schemas } from "../api/client";
import { useBench } from "./bench";

type Sent = Schemas["ViewChange"];
type Changes<T> = Record<string, T | null> | null;

/** A change as it is sent; the generated type does not say that entries taken away are null. */
export type ViewChange = Omit<Sent, "parts" | "signals" | "parameters" | "uses" | "plotted"> & {
  parts: Changes<Schemas["PartView"]>;
  signals: Changes<Schemas["SignalView"]>;
  parameters: Changes<Schemas["ParameterView"]>;
  uses: Changes<string[]>;
  plotted: Changes<Schemas["SignalView"]>;
};

/** Entries with changes made: null takes one away, and where nothing changed the object is the same. */
function changed<T>(before: Record<string, T>, changes: Record<string, T | null> | null | undefined): Record<string, T> {
  if (!changes) return before;
  const after = { ...before };
  for (const [key, value] of Object.entries(changes)) {
    if (value === null) delete after[key];
    else after[key] = value;
  }
  return after;
}

/** The view after a change; what the change does not name stays the same object, so that nothing is drawn again for it. */
export function applyChange(before: ModelView, change: ViewChange): ModelView {
  const { isWhole, parts, signals, parameters, uses, plotted, findings, ownParts, ...rest } = change;
  const from = isWhole ? { parts: {}, signals: {}, parameters: {}, uses: {}, plotted: {} } : before;
  return {
    ...rest,
    parts: changed(from.parts, parts),
    signals: changed(from.signals, signals),
    parameters: changed(from.parameters, parameters),
    uses: changed(from.uses, uses),
    plotted: changed(from.plotted, plotted),
    findings: findings ?? before.findings,
    ownParts: ownParts ?? before.ownParts,
  };
}

/** The shipped catalog; a model's view says which parts of the user stand before it. */
let shipped: CatalogPart[] = [];

export function setShipped(catalog: CatalogPart[]): void {
  shipped = catalog;
}

/** What can be placed, by type: the model's and the user's own parts before the shipped ones. */
export const withOwn = (own: CatalogPart[]) => new Map([...own, ...shipped].reverse().map((p) => [p.name, p]));

// What the user's parts are, each view of the model says anew.
useBench.subscribe((now, before) => {
  if (now.view && now.view.ownParts !== before.view?.ownParts) useBench.setState({ catalog: withOwn(now.view.ownParts) });
});
