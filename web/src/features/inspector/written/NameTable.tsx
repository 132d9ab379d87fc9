import classNames from "classnames/bind";
import { Button, Dropdown } from "antd";
import { useShallow } from "zustand/react/shallow";
import { select, useBench } from "../../../state/bench";
import type { NameKind, Written } from "../../../state/document";
import { addName } from "../../../state/names";
import { told } from "../../../ui/format";
import { kindsOf } from "./kinds";
import styles from "./written.module.css";

const cx = classNames.bind(styles);

/** Names by what they are, with type and present value. */
export function NameTable({ of }: { of: Written }) {
  const { view, values, time } = useBench(useShallow((s) => ({ view: s.view, values: s.values, time: s.time })));
  const names = Object.entries(of.names).sort((a, b) => a[1].order - b[1].order);
  const valueOf = (name: string, kind: NameKind) => {
    if (kind === "parameter") return view.parameters[name]?.display ?? String(view.parameters[name]?.value ?? "");
    const value = time === null ? undefined : values.get(name);
    const word = value === undefined ? undefined : (view.chart ?? view.table)?.words[name]?.[Math.round(value) - 1];
    return word ?? told(value, view.signals[name]);
  };
  return (
    <>
      <table className={cx("names")} aria-label="Names">
        <tbody>
          {kindsOf(of).map(({ kind, title }) => {
            const own = names.filter(([, n]) => n.kind === kind);
            if (own.length === 0) return null;
            return [
              <tr key={kind} className={cx("head")}>
                <th colSpan={4} scope="colgroup" className={cx(`kind-${kind}`)}>
                  {title}
                </th>
              </tr>,
              ...own.map(([id, n]) => (
                <tr
                  key={id}
                  tabIndex={0}
                  title={n.description}
                  onClick={() => select([id])}
                  onKeyDown={(e) => e.key === "Enter" && select([id])}
                >
                  <td className={cx(`kind-${kind}`)}>
                    <span>{n.name}</span>
                  </td>
                  <td className="quiet">{n.type.startsWith("{") ? "words" : kind === "event" || kind === "signal" ? "event" : n.type}</td>
                  <td className="mono">{valueOf(n.name, kind)}</td>
                  <td className="quiet">{view.signals[n.name]?.unit || n.unit || ""}</td>
                </tr>
              )),
            ];
          })}
        </tbody>
      </table>
      <Dropdown
        trigger={["click"]}
        menu={{ items: kindsOf(of).map((k) => ({ key: k.kind, label: k.one, onClick: () => void addName(k.kind) })) }}
      >
        <Button size="small">Add a name</Button>
      </Dropdown>
    </>
  );
}
