import classNames from "classnames/bind";
import { Button, Dropdown, Select } from "antd";
import { useMemo, useRef, useState } from "react";
import { takeMesh } from "../../api/meshes";
import { notify, notifyError, useBench } from "../../state/bench";
import { addShape, cornersOf, inOrder, removeShape, setShape, type Shape, type ShapeKind } from "../../state/shapes";
import { format } from "../../ui/format";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

const kinds: readonly { kind: ShapeKind; label: string }[] = [
  { kind: "box", label: "Box" },
  { kind: "cylinder", label: "Cylinder" },
  { kind: "cone", label: "Cone" },
  { kind: "extrusion", label: "Extruded outline" },
  { kind: "tube", label: "Tube between two points" },
  { kind: "text", label: "Text" },
  { kind: "mesh", label: "From a file (STL, glTF)" },
];

const inks: readonly { value: Shape["ink"]; label: string }[] = [
  { value: "face", label: "Paper" },
  { value: "steel", label: "Steel" },
  { value: "oil", label: "Hydraulics" },
  { value: "water", label: "Water" },
  { value: "land", label: "Land" },
  { value: "wood", label: "Wood" },
  { value: "signal", label: "Marked" },
];

/** The shapes that a part carries in the scene. */
export function ShapePanel({ id, stands }: { id: string; stands: string }) {
  const carried = useBench((s) => s.diagram.parts[id]?.shapes);
  const [open, setOpen] = useState<string | null>(null);
  const [sent, setSent] = useState<number | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const pairs = useMemo(() => inOrder(carried), [carried]);
  const add = (kind: ShapeKind) => (kind === "mesh" ? file.current?.click() : setOpen(addShape(id, kind)));
  const take = async (chosen: File) => {
    setSent(0);
    try {
      const { hash, triangles, extent, scale } = await takeMesh(chosen, setSent);
      setOpen(addShape(id, "mesh", { mesh: hash, file: chosen.name, measure: scale }));
      const size = [extent.x, extent.y, extent.z].map((v) => format(v * scale, 3)).join(" × ");
      notify(`${chosen.name}: ${triangles.toLocaleString("en")} triangles, ${size} m${scale === 1 ? "" : ", taken as millimetres"}.`);
    } catch (e) {
      notifyError([(e as Error).message, (e as { advice?: string }).advice].filter(Boolean).join(". "));
    } finally {
      setSent(null);
    }
  };
  return (
    <section aria-label="Shapes in the scene">
      <h3>Shapes in the scene</h3>
      {pairs.length === 0 && <p className={cx("sub")}>A simple shape of its kind, until it has one of its own.</p>}
      {pairs.map(([shape, node], i) => (
        <ShapeCard key={shape} part={id} id={shape} node={node} number={i + 1} open={open === shape} onOpen={setOpen} stands={stands} />
      ))}
      <div className={cx("buttons")}>
        <Dropdown trigger={["click"]} menu={{ items: kinds.map((k) => ({ key: k.kind, label: k.label, onClick: () => add(k.kind) })) }}>
          <Button size="small" loading={sent !== null}>
            {sent === null ? "Add a shape" : `${Math.round(100 * sent)} % sent`}
          </Button>
        </Dropdown>
      </div>
      <input
        ref={file}
        type="file"
        hidden
        aria-label="File of a mesh"
        accept=".stl,.glb,.gltf"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          if (chosen) void take(chosen);
          e.target.value = "";
        }}
      />
    </section>
  );
}

interface CardProps {
  part: string;
  id: string;
  node: Shape;
  number: number;
  open: boolean;
  onOpen: (id: string | null) => void;
  stands: string;
}

function ShapeCard({ part, id, node, number, open, onOpen, stands }: CardProps) {
  const kind = kinds.find((k) => k.kind === node.kind)?.label ?? node.kind;
  const name = node.file ?? (node.kind === "text" ? `“${node.text ?? ""}”` : kind);
  const set = (values: Partial<Shape>) => setShape(part, id, values);
  const triple = (label: string, key: "at" | "turn" | "size", unit: string, axes: readonly ("x" | "y" | "z")[] = ["x", "y", "z"]) => (
    <Numbers
      label={label}
      unit={unit}
      values={axes.map((a) => node[key][a])}
      names={axes}
      set={(i, v) => set({ [key]: { ...node[key], [axes[i] as string]: v } })}
    />
  );
  return (
    <div className={cx("shape")}>
      <div className={cx("shape-head")}>
        <Button type="text" size="small" aria-expanded={open} onClick={() => onOpen(open ? null : id)}>
          {number}. {name}
        </Button>
        <Button type="text" size="small" aria-label={`Remove shape ${number}`} onClick={() => removeShape(part, id)}>
          Remove
        </Button>
      </div>
      {open && (
        <div className={cx("shape-body")}>
          <label htmlFor={`${id}-ink`}>Stands for</label>
          <Select
            id={`${id}-ink`}
            size="small"
            aria-label="What it stands for"
            value={node.ink}
            options={[...inks]}
            onChange={(ink) => set({ ink })}
          />
          {node.kind === "text" && (
            <>
              <label htmlFor={`${id}-text`}>Text</label>
              <TextField id={`${id}-text`} label="Text in the scene" value={node.text ?? ""} prose commit={(text) => set({ text })} />
            </>
          )}
          {node.kind === "tube" ? (
            <>
              {triple("From", "at", "m")}
              {triple("To", "size", "m")}
              <Numbers label="Diameter" unit="m" values={[node.measure]} names={["d"]} set={(_, measure) => set({ measure })} />
            </>
          ) : (
            <>
              {triple("Middle", "at", "m")}
              {triple("Turn", "turn", "°")}
            </>
          )}
          {node.kind === "box" && triple("Lengths", "size", "m")}
          {(node.kind === "cylinder" || node.kind === "cone") && (
            <>
              {triple("Diameter", "size", "m", ["x"])}
              {triple("Along z", "size", "m", ["z"])}
            </>
          )}
          {node.kind === "text" && triple("Height", "size", "m", ["y"])}
          {node.kind === "mesh" && (
            <Numbers label="Scale" unit="" values={[node.measure]} names={["scale"]} set={(_, measure) => set({ measure })} />
          )}
          {node.kind === "extrusion" && (
            <>
              {triple("Depth", "size", "m", ["z"])}
              <label htmlFor={`${id}-outline`}>Corners</label>
              <TextField
                id={`${id}-outline`}
                label="Corners of the outline"
                value={node.outline.map((p) => `${p.x} ${p.y}`).join("; ")}
                prose
                commit={(text) => {
                  const outline = cornersOf(text);
                  if (outline) set({ outline });
                  else notifyError("Corners are written as x y, apart by semicolons, three or more: 0 0; 2 0; 2 1.");
                }}
              />
            </>
          )}
          <p className={cx("sub", "shape-note")}>
            {stands === "plane" ? "x along, y across, z towards you." : "x ahead, y to the left, z up."}
          </p>
        </div>
      )}
    </div>
  );
}

interface NumbersProps {
  label: string;
  unit: string;
  values: readonly number[];
  names: readonly string[];
  set: (index: number, value: number) => void;
}

/** One to three numbers in a row. */
function Numbers({ label, unit, values, names, set }: NumbersProps) {
  return (
    <>
      <span>
        {label} {unit && <small>{unit}</small>}
      </span>
      <span className={cx("numbers")}>
        {values.map((v, i) => (
          <TextField
            key={names[i]}
            label={values.length > 1 ? `${label} ${names[i]}` : label}
            value={String(v)}
            commit={(text) => {
              const number = Number(text.replace(",", "."));
              if (Number.isFinite(number)) set(i, number);
              else notifyError(`'${text}' is no number.`);
            }}
          />
        ))}
      </span>
    </>
  );
}
