import classNames from "classnames/bind";
import { Button, Input, Tree, type TreeDataNode } from "antd";
import { useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { definitionOf, levelsOf, type Level, type ModelDocument } from "../../state/document";
import { moveToLevel } from "../../state/levels";
import { goToLevel, goToPart } from "../../state/model";
import { usesOf } from "../../state/selection";
import { addSheet, openSheet } from "../../state/sheets";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

const ROOT = "/";

/** What a part that is dragged carries: its path. */
const CARRIED = "application/x-anchor-bend-part";

interface Entry {
  path: string;
  name: string;
  uses: number;
  children: Entry[];
}

/** All levels with their parts, as a tree. */
function treeOf(model: ModelDocument): Entry {
  const byPath = new Map<string, Level>(levelsOf(model).map((l) => [l.path, l]));
  const entry = (path: string, name: string, type: string | null): Entry => {
    const level = byPath.get(path);
    return {
      path,
      name,
      uses: type && level ? usesOf(type) : 1,
      children: level
        ? Object.entries(level.diagram.parts)
            .sort((a, b) => (a[1].y ?? 0) - (b[1].y ?? 0) || (a[1].x ?? 0) - (b[1].x ?? 0))
            .map(([id, p]) => entry(path ? `${path}/${id}` : id, p.name, definitionOf(p.type) === null ? null : p.type))
        : [],
    };
  };
  return entry("", model.definitions[model.root]?.name ?? "", null);
}

/** The entries that a search leaves, with those that lead to them. */
function found(entry: Entry, words: readonly string[]): Entry | null {
  const children = entry.children.flatMap((c) => found(c, words) ?? []);
  const isHit = words.every((w) => entry.name.toLowerCase().includes(w));
  return isHit || children.length > 0 ? { ...entry, children } : null;
}

/** The levels of the model as a tree: where one is, what is inside, and where something is found. */
export function Outline() {
  const { model, level, selection, findings } = useBench(
    useShallow((s) => ({ model: s.model, level: s.level, selection: s.selection, findings: s.view.findings })),
  );
  const [text, setText] = useState("");
  const [over, setOver] = useState<string | null>(null);
  const [opened, setOpened] = useState<readonly string[]>([]);
  const byLevel = useMemo(() => new Set(levelsOf(model).map((l) => l.path)), [model]);
  const tree = useMemo(() => treeOf(model), [model]);
  const flags = useMemo(() => {
    const result = new Map<string, string>();
    for (const f of findings)
      if (f.part && f.severity !== "information")
        for (let path = f.part; ; path = path.slice(0, path.lastIndexOf("/"))) {
          if (result.get(path) !== "error") result.set(path, f.severity);
          if (!path.includes("/")) break;
        }
    return result;
  }, [findings]);
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = words.length === 0 ? tree : found(tree, words);
  const all: string[] = [];
  const nodeOf = (e: Entry): TreeDataNode => {
    if (e.children.length > 0) all.push(e.path || ROOT);
    const flag = flags.get(e.path);
    return {
      key: e.path || ROOT,
      title: (
        <span
          className={cx("outline-entry", { here: e.path === level, target: e.path === over })}
          draggable={e.path !== ""}
          onDragStart={(d) => {
            d.dataTransfer.setData(CARRIED, e.path);
            d.dataTransfer.effectAllowed = "move";
          }}
          onDragOver={(d) => {
            if (!byLevel.has(e.path) || !d.dataTransfer.types.includes(CARRIED)) return;
            d.preventDefault();
            setOver(e.path);
          }}
          onDragLeave={() => setOver(null)}
          onDrop={(d) => {
            d.preventDefault();
            setOver(null);
            void moveToLevel(d.dataTransfer.getData(CARRIED), e.path);
          }}
        >
          {e.name}
          {e.uses > 1 && <small title={`One definition, used ${e.uses} times`}> ×{e.uses}</small>}
          {flag && (
            <span className={cx("outline-flag", flag)} title={flag === "error" ? "Has an error" : "Has a warning"}>
              ⚑
            </span>
          )}
        </span>
      ),
      children: e.children.map(nodeOf),
    };
  };
  const data = shown ? [nodeOf(shown)] : [];
  const steps = level.split("/").filter(Boolean);
  const way = [ROOT, ...steps.map((_, i) => steps.slice(0, i + 1).join("/"))];
  const selected = [...selection].map((id) => (level ? `${level}/${id}` : id));
  const choose = (key: string) => void (key === ROOT ? goToLevel("") : goToPart(key));
  return (
    <section className={cx("outline")} aria-label="Outline of the model">
      <Input
        size="small"
        placeholder="Search the outline"
        aria-label="Search the outline"
        value={text}
        allowClear
        onChange={(e) => setText(e.target.value)}
      />
      {shown ? (
        <Tree
          blockNode
          treeData={data}
          expandedKeys={words.length > 0 ? all : [...new Set([...way, ...opened])]}
          selectedKeys={selected.length > 0 ? selected : [level || ROOT]}
          onExpand={(keys) => setOpened(keys.map(String))}
          onSelect={(_, { node }) => choose(String(node.key))}
          onDoubleClick={(_, node) => void goToLevel(node.key === ROOT ? "" : String(node.key))}
          motion={false}
        />
      ) : (
        <p className="quiet">Nothing is called so.</p>
      )}
      <Sheets />
    </section>
  );
}

/** The sheets of the model. */
function Sheets() {
  const { sheets, open } = useBench(useShallow((s) => ({ sheets: s.model.sheets, open: s.openSheet })));
  return (
    <section className={cx("sheets")} aria-label="Sheets of the model">
      <h2>Sheets</h2>
      {Object.entries(sheets ?? {}).map(([id, sheet]) => (
        <Button
          key={id}
          type="text"
          size="small"
          className={cx("sheet", { on: id === open })}
          aria-pressed={id === open}
          onClick={() => openSheet(id === open ? null : id)}
        >
          {sheet.name}
          <small className="quiet">{Object.keys(sheet.rows).length}</small>
        </Button>
      ))}
      <Button type="text" size="small" className={cx("sheet", "quiet")} onClick={addSheet}>
        New sheet
      </Button>
    </section>
  );
}
