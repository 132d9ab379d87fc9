import { useBench } from "../../state/bench";
import { referenceOf } from "../../state/document";
import { addSheet, freshCurve, freshTile, type Curve, type Tile } from "../../state/plotSheets";

/** Sheets that are made in one action from what is selected. */

export interface Template {
  label: string;
  make: () => void;
}

const curves = (signals: readonly string[], strip: (i: number) => number): Record<string, Curve> =>
  Object.fromEntries(signals.map((signal, i) => [`c${i}`, freshCurve(signal, { strip: strip(i) })]));

/** What can be made for a part of the level. */
export function templates(part: string | null): Template[] {
  const { view, diagram, level, model } = useBench.getState();
  const found: Template[] = [];
  const node = part === null ? undefined : diagram.parts[part];
  const shown = part === null ? undefined : view.parts[part];
  if (part !== null && node && shown) {
    const ports = shown.ports.flatMap((p) =>
      p.potential && p.flow ? [p.potential, p.flow] : (p.elements ?? [p.isInput ? sourceOf(part, p.name) : `${part}.${p.name}`]),
    );
    const signals = ports.filter((k): k is string => k !== null).map((k) => referenceOf(level, k));
    found.push({
      label: `Ports of ${node.name}`,
      make: () => void addSheet({ t1: freshTile("strips", { height: 18, curves: curves(signals, (i) => i) }) }, node.name),
    });
  }
  // A loop is what a requirement or a controller speaks of: set-point and answer together, what drives it below.
  const loops = Object.values(model.requirements).filter((r) => r.reference);
  const pairs = new Map(loops.map((r) => [r.signal, r.reference as string]));
  for (const [signal, reference] of pairs) {
    const name = Object.values(view.plotted).find((p) => p.reference === signal)?.label ?? signal;
    found.push({ label: `Response of ${name}`, make: () => void addSheet(loopTiles(signal, reference), name) });
  }
  return found;
}

function loopTiles(signal: string, reference: string): Record<string, Tile> {
  return {
    t1: freshTile("strips", {
      height: 9,
      curves: {
        c0: freshCurve(reference, { dash: "dashed" }),
        c1: freshCurve(signal),
        c2: freshCurve(signal, { strip: 1, difference: true }),
      },
    }),
    t2: freshTile("against", { y: 9, width: 5, height: 9, abscissa: reference, curves: { c0: freshCurve(signal) } }),
    t3: freshTile("spectrum", { x: 5, y: 9, width: 7, height: 9, curves: { c0: freshCurve(signal) } }),
  };
}

/** What drives an input: the signal is named after its source. */
function sourceOf(part: string, port: string): string | null {
  const { diagram } = useBench.getState();
  const wire = Object.values(diagram.wires).find((w) => w.to.part === part && w.to.port === port);
  return wire ? `${wire.from.part}.${wire.from.port}` : null;
}
