import { Modal } from "antd";
import { useMemo, useState } from "react";
import type { CatalogPart } from "../api/client";
import { inView } from "../canvas/freePlace";
import { defaultView } from "../canvas/geometry";
import { searchParts } from "../features/build/QuickPlace";
import { select, setStage, useBench } from "../state/bench";
import { addPart, toggleProbe } from "../state/edits";
import { commands } from "./commands";

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
  const [index, setIndex] = useState(0);
  const entries = useMemo(() => (text.trim() === "" ? commandEntries() : find(text)).slice(0, MOST), [text]);
  const choose = (e: Entry | undefined) => {
    if (!e) return;
    onClose();
    e.act();
  };
  return (
    <Modal
      open
      footer={null}
      closable={false}
      title={<span className="unseen">Find</span>}
      width={480}
      className="palette"
      onCancel={onClose}
      style={{ top: 90 }}
    >
      <input
        autoFocus
        role="combobox"
        aria-label="Find a part, signal, parameter or command"
        aria-controls="palette-entries"
        aria-expanded="true"
        aria-activedescendant={entries.length > 0 ? `palette-${index}` : undefined}
        placeholder="Part, signal, parameter or command"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setIndex(0);
        }}
        onKeyDown={(e) => {
          if (e.key === "Enter") choose(entries[index]);
          else if (e.key === "ArrowDown") setIndex(Math.min(entries.length - 1, index + 1));
          else if (e.key === "ArrowUp") setIndex(Math.max(0, index - 1));
          else return;
          e.preventDefault();
        }}
      />
      <ul role="listbox" id="palette-entries" aria-label="Found" tabIndex={0}>
        {entries.map((e, i) => (
          <li key={e.kind + e.label} id={`palette-${i}`} role="option" aria-selected={i === index} onClick={() => choose(e)}>
            <span>{e.label}</span>
            <small>{e.kind}</small>
          </li>
        ))}
        {entries.length === 0 && (
          <li className="quiet" role="option" aria-selected="false" aria-disabled="true">
            Nothing is called so.
          </li>
        )}
      </ul>
    </Modal>
  );
}

const commandEntries = (): Entry[] => commands().map((c) => ({ kind: c.keys ?? "command", label: c.label, act: c.run }));

/** Places a part in the middle of what is in view. */
function placeInView(part: CatalogPart): void {
  const size = defaultView(part);
  addPart(part.name, { x: inView.middle.x - size.width / 2, y: inView.middle.y - size.height / 2 });
}

function find(text: string): Entry[] {
  const { diagram, view, catalog, recent } = useBench.getState();
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const matches = (s: string) => words.every((w) => s.toLowerCase().includes(w));
  const result: Entry[] = [];
  for (const c of commandEntries()) if (matches(c.label)) result.push(c);
  for (const [id, p] of Object.entries(diagram.parts))
    if (matches(`${p.name} ${p.type}`)) result.push({ kind: p.type, label: p.name, act: () => (setStage("build"), select([id])) });
  for (const [key, s] of Object.entries(view.signals))
    if (matches(`${s.label} ${s.path} ${s.unit}`)) result.push({ kind: "plot signal", label: s.label, act: () => toggleProbe(key) });
  for (const name of Object.keys(diagram.parameters))
    if (matches(name))
      result.push({
        kind: "parameter",
        label: name,
        act: () => (select([]), setTimeout(() => window.document.getElementById(`model-${name}`)?.focus(), 50)),
      });
  for (const p of searchParts(catalog.values(), text, recent).slice(0, 6))
    result.push({ kind: "place part", label: p.title, act: () => (setStage("build"), placeInView(p)) });
  return result;
}
