import { useShallow } from "zustand/react/shallow";
import { told } from "../bench/format";
import { useBench } from "../state/store";
import type { Point } from "../state/document";
import { signalColor } from "../traces/colors";
import { SignalTag } from "./Wires";

/** Names, probes and values on the wires; apart from the diagram, which scrubbing does not touch. */
export function SignalTags({ routes, sources }: { routes: ReadonlyMap<string, Point[]>; sources: ReadonlyMap<string, string[]> }) {
  const { document, view, time, values } = useBench(
    useShallow((s) => ({ document: s.document, view: s.view, time: s.time, values: s.values })),
  );
  return [...sources].map(([key, ids]) => {
    const wire = document.wires[ids[0] as string];
    const points = routes.get(ids[0] as string);
    const port = wire && view.parts[wire.from.part]?.ports.find((p) => p.name === wire.from.port);
    const owner = wire && view.parts[wire.from.part];
    // Of several ports along one edge the first ones keep to the left, so that values of neighbours do not meet.
    const edge = owner?.ports.filter((p) => port && p.side === port.side) ?? [];
    const leftwards = !!port && edge.length > 1 && edge.indexOf(port) < edge.length / 2 && (port.side === "top" || port.side === "bottom");
    const main = port?.potential ?? key;
    const signal = document.signals[main];
    if (!points || (!signal && time === null)) return null;
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
    if (!signal && !value) return null;
    return (
      <SignalTag
        key={key}
        points={points}
        name={signal?.name ?? ""}
        color={signal?.probe !== undefined ? signalColor(document, main) : null}
        value={value}
        flow={flow}
        leftwards={leftwards}
        flowsOn={(values.get(port?.flow ?? "") ?? 0) <= 0}
      />
    );
  });
}
