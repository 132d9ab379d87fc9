import { useShallow } from "zustand/react/shallow";
import { format } from "../bench/format";
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
    const signal = document.signals[key];
    const info = view.signals[key];
    const value = time !== null ? values.get(key) : undefined;
    const points = routes.get(ids[0] as string);
    if (!points || (!signal && value === undefined)) return null;
    const shown =
      value === undefined
        ? null
        : info?.isBoolean
          ? value
            ? "true"
            : "false"
          : `${format(value * Number(info?.scale ?? 1) + Number(info?.shift ?? 0))} ${info?.unit ?? ""}`;
    return (
      <SignalTag
        key={key}
        points={points}
        name={signal?.name ?? ""}
        color={signal?.probe !== undefined ? signalColor(document, key) : null}
        value={shown}
      />
    );
  });
}
