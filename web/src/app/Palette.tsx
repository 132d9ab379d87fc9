import type { CatalogPart } from "../api/client";
import { inView } from "../canvas/freePlace";
import { defaultView, fits } from "../canvas/geometry";
import { useEffect, useMemo, useRef, useState } from "react";
import { addPart, connect, flipSelected, removeSelected, toggleProbe } from "../state/edits";
import { move } from "../state/model";
import { select, setStage, useBench } from "../state/bench";
import { setRange, startRun } from "../state/runs";
import { searchParts } from "../features/build/QuickPlace";

interface Entry {
  kind: string;
  label: string;
  act: () => void;
}

/** Finds any command, part, signal or parameter by typing. */
export function Palette({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState("");
  const [index, setIndex] = useState(0);
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), []);
  const entries = useMemo(() => (text.trim() === "" ? commands() : find(text)).slice(0, 12), [text]);
  const choose = (e: Entry | undefined) => {
    if (!e) return;
    onClose();
    e.act();
  };
  return (
    <div className="palette-back" onPointerDown={onClose}>
      <div className="palette" role="dialog" aria-label="Find" onPointerDown={(e) => e.stopPropagation()}>
        <input
          ref={input}
          aria-label="Find a part, signal, parameter or command"
          placeholder="Part, signal, parameter or command"
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            setIndex(0);
          }}
          onKeyDown={(e) => {
            if (e.key === "Escape") onClose();
            else if (e.key === "Enter") choose(entries[index]);
            else if (e.key === "ArrowDown") setIndex(Math.min(entries.length - 1, index + 1));
            else if (e.key === "ArrowUp") setIndex(Math.max(0, index - 1));
            else return;
            e.preventDefault();
          }}
        />
        <ul role="listbox">
          {entries.map((e, i) => (
            <li key={e.kind + e.label} role="option" aria-selected={i === index} onClick={() => choose(e)}>
              <span>{e.label}</span>
              <small>{e.kind}</small>
            </li>
          ))}
          {entries.length === 0 && <li className="quiet">Nothing is called so.</li>}
        </ul>
      </div>
    </div>
  );
}

function commands(): Entry[] {
  const { selection, diagram } = useBench.getState();
  const parts = [...selection].filter((i) => i in diagram.parts);
  const list: Entry[] = [
    { kind: "command", label: "Run", act: () => void startRun() },
    { kind: "command", label: "Undo", act: () => void move("undo") },
    { kind: "command", label: "Redo", act: () => void move("redo") },
    { kind: "command", label: "Fit the time axis", act: () => setRange(null) },
    { kind: "command", label: "Build", act: () => setStage("build") },
    { kind: "command", label: "Observe", act: () => setStage("observe") },
    { kind: "command", label: "Tune", act: () => setStage("tune") },
    { kind: "command", label: "Verify", act: () => setStage("verify") },
    { kind: "command", label: "Export the model as a file", act: () => exportModel("export", "json") },
    { kind: "command", label: "Export the model as text of the equation language", act: () => exportModel("text", "mo") },
  ];
  if (parts.length > 0)
    list.unshift(
      { kind: "command", label: "Flip the selection", act: flipSelected },
      { kind: "command", label: "Delete the selection", act: removeSelected },
    );
  if (parts.length === 2)
    list.unshift({
      kind: "command",
      label: `Connect ${diagram.parts[parts[0] as string]?.name} to ${diagram.parts[parts[1] as string]?.name}`,
      act: () => connectParts(parts[0] as string, parts[1] as string),
    });
  return list;
}

/** The first two ports of two parts that fit and are free: wiring without a pointer. */
export function connectParts(a: string, b: string): void {
  const { view, diagram } = useBench.getState();
  const wired = new Set(Object.values(diagram.wires).flatMap((w) => [`${w.from.part}.${w.from.port}`, `${w.to.part}.${w.to.port}`]));
  const free = (part: string) =>
    [...(view.parts[part]?.ports ?? [])].sort((p, q) => Number(wired.has(`${part}.${p.name}`)) - Number(wired.has(`${part}.${q.name}`)));
  for (const from of free(a).filter((p) => p.domain || !p.isInput))
    for (const to of free(b))
      if (fits(from, to) && (to.domain || !wired.has(`${b}.${to.name}`)))
        return connect({ part: a, port: from.name }, { part: b, port: to.name });
}

export function exportModel(form: string, ending: string): void {
  const { id, model } = useBench.getState();
  const link = window.document.createElement("a");
  link.href = `/api/models/${id}/${form}`;
  link.download = `${model.definitions[model.root]?.name}.${ending}`;
  link.click();
}

/** Places a part in the middle of what is in view. */
function placeInView(part: CatalogPart): void {
  const size = defaultView(part);
  addPart(part.name, { x: inView.middle.x - Number(size.width) / 2, y: inView.middle.y - Number(size.height) / 2 });
}

function find(text: string): Entry[] {
  const { diagram, view, catalog, recent } = useBench.getState();
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const matches = (s: string) => words.every((w) => s.toLowerCase().includes(w));
  const result: Entry[] = [];
  for (const c of commands()) if (matches(c.label)) result.push(c);
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
