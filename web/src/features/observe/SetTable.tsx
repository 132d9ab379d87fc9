import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import type { Schemas, SignalView } from "../../api/client";
import { signalColor } from "../../plots/colors";
import { useBench } from "../../state/bench";
import { format } from "../../ui/format";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

type Member = Schemas["RunSetMember"];

interface Column {
  head: string;
  unit: string;
  text: (m: Member) => string;
}

/** What is told of each plotted signal. */
const measures = [
  ["lowest", "lowest"],
  ["highest", "highest"],
  ["last", "at the end"],
] as const;

const shown = (value: number | undefined, info: SignalView | undefined) =>
  value === undefined ? "–" : format(value * (info?.scale ?? 1) + (info?.shift ?? 0));

function columnsOf(set: Schemas["RunSetView"], infos: Record<string, SignalView>): Column[] {
  const signals = Object.keys(infos).filter((key) => set.members.some((m) => key in m.signals));
  return [
    ...signals.flatMap((key) =>
      measures.map(([what, words]): Column => ({
        head: `${infos[key]?.label}, ${words}`,
        unit: infos[key]?.unit ?? "",
        text: (m) => shown(m.signals[key]?.[what], infos[key]),
      })),
    ),
    { head: "Requirements missed", unit: "", text: (m) => (m.missed.length === 0 ? (m.met > 0 ? "none" : "–") : m.missed.join(", ")) },
    { head: "Equations", unit: "", text: (m) => (m.equations > 0 ? String(m.equations) : "–") },
    { head: "States", unit: "", text: (m) => (m.equations > 0 ? String(m.states) : "–") },
    { head: "Time taken", unit: "ms", text: (m) => (m.seconds === null || m.seconds === undefined ? "–" : format(m.seconds * 1000, 3)) },
  ];
}

/** The runs of a set, a row each: what was chosen, and where what came of it differs. */
export function SetTable() {
  const { set, infos } = useBench(useShallow((s) => ({ set: s.set, infos: s.view.plotted })));
  if (!set) return null;
  const columns = columnsOf(set, infos);
  const differs = columns.map((c) => new Set(set.members.map(c.text)).size > 1);
  return (
    <div className={cx("set-table")} role="region" aria-label="What differs between the runs" tabIndex={0}>
      <table>
        <thead>
          <tr>
            <th scope="col">Run</th>
            {columns.map((c) => (
              <th key={c.head} scope="col">
                {c.head} {c.unit && <small>{c.unit}</small>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {set.members.map((m, i) => (
            <tr key={m.label}>
              <th scope="row">
                <i style={{ background: signalColor(i) }} />
                {m.label}
              </th>
              {m.state === "failed" ? (
                <td colSpan={columns.length} className={cx("failed")}>
                  {m.problem}
                </td>
              ) : (
                columns.map((c, k) => (
                  <td key={c.head} className={cx({ same: !differs[k] })}>
                    {c.text(m)}
                  </td>
                ))
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
