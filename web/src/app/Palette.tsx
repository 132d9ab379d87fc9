import classNames from "classnames/bind";
import { Modal } from "antd";
import { useMemo, useState } from "react";
import type { CatalogPart } from "../api/client";
import { inView } from "../canvas/freePlace";
import { select, setStage, useBench } from "../state/bench";
import { levelsOf, referenceOf } from "../state/document";
import { goToLevel, goToPart } from "../state/model";
import { searchParts } from "../state/catalogSearch";
import { addPart, toggleProbe } from "../state/edits";
import { keyText } from "../ui/keys";
import { OptionList } from "../ui/OptionList";
import { commands } from "./commands";
import styles from "./app.module.css";

const cx = classNames.bind(styles);

interface Entry {
  /** What it is, beside the label; a command's keys. */
  kind: string;
  label: string;
  act: () => void;
}

/** Entries shown at once. */
const MOST = 12;

/** Finds any command, part, signal or parameter by typing. */
export function Palette({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState("");
  const options = useMemo(
    () =>
      (text.trim() === "" ? commandEntries() : find(text)).slice(0, MOST).map((e) => ({
        label: e.label,
        note: e.kind,
        choose: () => {
          onClose();
          e.act();
        },
      })),
    [text, onClose],
  );
  return (
    <Modal
      open
      footer={null}
      closable={false}
      title={<span className="unseen">Find</span>}
      width={480}
      className={cx("palette")}
      onCancel={onClose}
      style={{ top: 90 }}
    >
      <OptionList
        label="Find a part, signal, parameter or command"
        placeholder="Part, signal, parameter or command"
        text={text}
        onText={setText}
        options={options}
        nothing="Nothing is called so."
        onEscape={onClose}
      />
    </Modal>
  );
}

const commandEntries = (): Entry[] => commands().map((c) => ({ kind: c.keys ? keyText(c.keys) : "command", label: c.label, act: c.run }));

/** Places a part in the middle of what is in view. */
function placeInView(part: CatalogPart): void {
  const size = part.fresh;
  addPart(part.name, { x: inView.middle.x - size.width / 2, y: inView.middle.y - size.height / 2 });
}

/** Goes to a level's parameter and into its field. */
async function showParameter(level: string, name: string): Promise<void> {
  setStage("build");
  await goToLevel(level);
  select([]);
  requestAnimationFrame(() => window.document.getElementById(`model-${name}`)?.focus());
}

function find(text: string): Entry[] {
  const { model, level, view, catalog, recent } = useBench.getState();
  const titleOf = (type: string) => catalog.get(type)?.title ?? type;
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const matches = (s: string) => words.every((w) => s.toLowerCase().includes(w));
  const result: Entry[] = [];
  for (const c of commandEntries()) if (matches(c.label)) result.push(c);
  for (const { path, names, diagram: at } of levelsOf(model)) {
    const where = names.join(" ▸ ");
    const isHere = path === level;
    for (const [id, p] of Object.entries(at.parts))
      if (matches(`${p.name} ${p.type}`))
        result.push({ kind: where || titleOf(p.type), label: p.name, act: () => void goToPart(referenceOf(path, id)) });
    for (const [key, s] of Object.entries(at.signals))
      if (!isHere && s.name && matches(s.name))
        result.push({
          kind: `signal in ${where || "the model"}`,
          label: s.name,
          act: () => void goToPart(referenceOf(path, key.split(".")[0] as string)),
        });
    for (const name of Object.keys(at.parameters))
      if (matches(name))
        result.push({ kind: where ? `parameter of ${where}` : "parameter", label: name, act: () => void showParameter(path, name) });
  }
  for (const [key, s] of Object.entries(view.signals))
    if (matches(`${s.label} ${s.path} ${s.unit}`)) result.push({ kind: "plot signal", label: s.label, act: () => toggleProbe(key) });
  for (const p of searchParts(catalog.values(), text, recent).slice(0, 6))
    result.push({ kind: "place part", label: p.title, act: () => (setStage("build"), placeInView(p)) });
  return result;
}
