import classNames from "classnames/bind";
import { TableOutlined } from "@ant-design/icons";
import { Button, Select } from "antd";
import { useShallow } from "zustand/react/shallow";
import type { CatalogPart } from "../../api/client";
import { useBench } from "../../state/bench";
import { edit, here } from "../../state/model";
import { moveToSheet } from "../../state/sheets";
import { selectionActions } from "../../state/selection";
import { keys, keyText } from "../../ui/keys";
import { TextField } from "../../ui/TextField";
import { typedOver } from "../../ui/typedUnit";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

type Parameter = CatalogPart["parameters"][number];

/** Several things: the parameters that all of the parts have, and what can be done with them together. */
export function SeveralPanel() {
  const { selection, diagram, catalog, view } = useBench(
    useShallow((s) => ({ selection: s.selection, diagram: s.diagram, catalog: s.catalog, view: s.view })),
  );
  const ids = [...selection].filter((i) => i in diagram.parts);
  const parts = ids.map((id) => catalog.get(diagram.parts[id]?.type ?? ""));
  const shared = (parts[0]?.parameters ?? []).filter(
    (p) =>
      p.type !== "Names" &&
      p.type !== "Text" &&
      ids.every((id) => view.parts[id]?.parameters[p.name]?.shown ?? true) &&
      parts.every((o) => o?.parameters.some((q) => q.name === p.name && q.type === p.type && q.unit === p.unit)),
  );
  const textOf = (id: string, p: Parameter) =>
    diagram.parts[id]?.parameters[p.name] ??
    catalog.get(diagram.parts[id]?.type ?? "")?.parameters.find((q) => q.name === p.name)?.default ??
    "";
  const set = (p: Parameter, text: string) =>
    edit(
      `Set ${p.name} of ${ids.length} parts`,
      ids.map((id) => ({ op: "add" as const, path: here("parts", id, "parameters", p.name), value: typedOver(textOf(id, p), text) })),
    );
  return (
    <>
      <h2>{selection.size} selected</h2>
      {ids.length > 1 &&
        shared.map((p) => {
          const texts = [...new Set(ids.map((id) => textOf(id, p)))];
          const common = texts.length === 1 ? (texts[0] as string) : "";
          const label = `${p.description ?? p.name} of all`;
          return (
            <div className={cx("row")} key={p.name}>
              <label htmlFor={`all-${p.name}`}>{p.description ?? p.name}</label>
              {p.choices ? (
                <Select
                  id={`all-${p.name}`}
                  size="small"
                  aria-label={label}
                  value={common || undefined}
                  placeholder="various"
                  options={p.choices.map((c) => ({ value: c.value, label: c.description ?? c.name }))}
                  onChange={(value: string) => set(p, value)}
                  popupMatchSelectWidth={false}
                />
              ) : (
                <TextField id={`all-${p.name}`} label={label} value={common} placeholder="various" commit={(text) => set(p, text)} />
              )}
              {p.type === "Real" && !p.isArray && !p.choices && (
                <Button
                  type="text"
                  size="small"
                  className={cx("lift")}
                  icon={<TableOutlined />}
                  title="Move it to a sheet, for all of these parts"
                  aria-label={`Move ${p.description ?? p.name} of all to a sheet`}
                  onClick={() => void moveToSheet({ parts: ids, parameter: p.name })}
                />
              )}
              <small>{p.choices || /[a-zµ°%]/i.test(common.replace(/^[-\d.e+]+/i, "")) ? "" : (p.unitText ?? "")}</small>
            </div>
          );
        })}
      <div className={cx("buttons", "column")}>
        {selectionActions().map((a) => (
          <Button key={a.label} size="small" onClick={() => void a.run()}>
            {a.label} {a.keys && <kbd>{keyText(keys[a.keys])}</kbd>}
          </Button>
        ))}
      </div>
    </>
  );
}
