import classNames from "classnames/bind";
import { Button, Select } from "antd";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { ITEMS, removeItem, renamePanel, setItem, shownPanel, type PanelItem, type PanelItemKind } from "../../state/panels";
import { TextBlock } from "../../ui/TextBlock";
import { TextField } from "../../ui/TextField";
import { TargetSelect } from "./TargetSelect";
import styles from "./panel.module.css";

const cx = classNames.bind(styles);

const hasScale = (kind: PanelItemKind) => ["slider", "knob", "stick", "dial", "bar", "level"].includes(kind);
const hasChoices = (kind: PanelItemKind) => ["list", "choice", "text"].includes(kind);
const hasSecond: Partial<Record<PanelItemKind, string>> = { stick: "Second axis", compass: "What it should be", horizon: "Pitch" };

/** The item of the panel that is being changed; the panel itself where none is. */
export function PanelItemPanel() {
  const { model, which, item, view } = useBench(
    useShallow((s) => ({ model: s.model, which: s.panel, item: s.panelEdit?.item ?? null, view: s.panelView })),
  );
  const shown = shownPanel({ model, panel: which });
  if (!shown) return null;
  const [panel, node] = shown;
  const chosen = item ? node.items[item] : undefined;
  return (
    <aside className={cx("inspector")} aria-label="Inspector">
      {!item || !chosen ? (
        <>
          <TextField label="Name of the panel" title prose value={node.name} commit={(name) => renamePanel(panel, name)} />
          <p className="quiet">
            Add controls and instruments above; drag them on the grid, size them at their corner. Arrow keys move, with Shift they size,
            Delete takes off.
          </p>
        </>
      ) : (
        <Fields key={item} panel={panel} id={item} item={chosen} called={view?.items[item]?.label} problem={view?.items[item]?.problem} />
      )}
    </aside>
  );
}

interface FieldProps {
  panel: string;
  id: string;
  item: PanelItem;
  called: string | undefined;
  problem: string | null | undefined;
}

function Fields({ panel, id, item, called, problem }: FieldProps) {
  const change = (values: Partial<PanelItem>) => setItem(panel, id, "Change the panel", values);
  const sets = ITEMS[item.kind].isControl;
  const lists = item.kind === "alerts" || item.kind === "faults";
  const number = (key: "from" | "to") => (text: string) => Number.isFinite(Number(text)) && change({ [key]: Number(text) });
  return (
    <>
      <TextField label="Label" title prose value={item.label ?? called ?? ITEMS[item.kind].label} commit={(label) => change({ label })} />
      <p className="quiet">{ITEMS[item.kind].label}</p>
      {problem && <p className={cx("problem")}>{problem}</p>}
      <div className={cx("row")}>
        <label>Shown as</label>
        <Select
          size="small"
          aria-label="Shown as"
          value={item.kind}
          options={(Object.keys(ITEMS) as PanelItemKind[])
            .filter((k) => ITEMS[k].isControl === sets)
            .map((k) => ({ value: k, label: ITEMS[k].label }))}
          onChange={(kind) => change({ kind })}
        />
      </div>
      {!lists && (
        <div className={cx("row")}>
          <label>{sets ? "Sets" : "Shows"}</label>
          <TargetSelect
            label={sets ? "Sets" : "Shows"}
            sets={sets}
            value={item.target}
            called={called}
            onChange={(target) => change({ target })}
          />
        </div>
      )}
      {hasSecond[item.kind] && (
        <div className={cx("row")}>
          <label>{hasSecond[item.kind]}</label>
          <TargetSelect
            label={hasSecond[item.kind] as string}
            sets={sets}
            value={item.second}
            called={undefined}
            onChange={(second) => change({ second })}
          />
        </div>
      )}
      {!lists && (
        <div className={cx("row")}>
          <label>Unit</label>
          <TextField
            label="Unit"
            value={item.unit ?? ""}
            placeholder="its own"
            commit={(unit) => change({ unit })}
            onEmpty={() => change({ unit: undefined })}
          />
        </div>
      )}
      {hasScale(item.kind) &&
        (["from", "to"] as const).map((key) => (
          <div key={key} className={cx("row")}>
            <label>{key === "from" ? "Scale from" : "Scale to"}</label>
            <TextField
              label={key === "from" ? "Scale from" : "Scale to"}
              value={String(item[key] ?? "")}
              commit={number(key)}
              onEmpty={() => change({ [key]: undefined })}
            />
          </div>
        ))}
      {hasChoices(item.kind) && (
        <div className={cx("block")}>
          <label>Choices, a line each: label = value</label>
          <TextBlock
            label="Choices"
            value={item.choices.map((c) => `${c.label} = ${c.value}`).join("\n")}
            commit={(text) =>
              change({
                choices: text
                  .split("\n")
                  .map((l) => l.split("="))
                  .filter(([l]) => l?.trim())
                  .map(([label, ...value]) => ({
                    label: (label as string).trim(),
                    value: value.join("=").trim() || (label as string).trim(),
                  })),
              })
            }
          />
        </div>
      )}
      <Button size="small" onClick={() => removeItem(panel, id)}>
        Take off the panel
      </Button>
    </>
  );
}
