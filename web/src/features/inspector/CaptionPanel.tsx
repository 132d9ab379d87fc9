import classNames from "classnames/bind";
import { Button, Input, InputNumber, Select } from "antd";
import type { Schemas } from "../../api/client";
import { snap } from "../../canvas/geometry";
import { useBench } from "../../state/bench";
import { removeSelected } from "../../state/edits";
import { edit, here } from "../../state/model";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

const tones: { value: Schemas["AreaTone"]; label: string }[] = [
  { value: "plain", label: "Plain" },
  { value: "sea", label: "Sea" },
  { value: "kelp", label: "Kelp" },
  { value: "sand", label: "Sand" },
  { value: "shell", label: "Shell" },
];

/** A note or an area: its text, and an area's tone. */
export function CaptionPanel({ id }: { id: string }) {
  const note = useBench((s) => s.diagram.notes[id]);
  const area = useBench((s) => s.diagram.areas[id]);
  const text = note?.text ?? area?.text ?? "";
  const commit = (value: string) => {
    if (value === text) return;
    if (note) edit("Change note", [{ op: "replace", path: here("notes", id, "text"), value }]);
    else edit("Change caption", [{ op: "replace", path: here("areas", id, "text"), value }]);
  };
  return (
    <>
      <h2>{note ? "Note" : "Area"}</h2>
      <p className={cx("sub")}>
        {note
          ? "Mathematics stands between dollar signs: $\\tau = J \\dot\\omega$. Links: [words](https://…), or [words](#Name of a part)."
          : "A caption around parts."}
      </p>
      <Input.TextArea
        key={text}
        autoFocus
        autoSize={{ minRows: note ? 3 : 1, maxRows: 12 }}
        aria-label={note ? "Text of the note" : "Caption of the area"}
        defaultValue={text}
        onFocus={(e) => e.target.select()}
        onBlur={(e) => commit(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter" && !e.shiftKey) {
            e.preventDefault();
            e.currentTarget.blur();
          }
        }}
      />
      {area &&
        (["width", "height"] as const).map((extent) => (
          <div key={extent} className={cx("row", "wide")}>
            <label htmlFor={`area-${extent}`}>{extent === "width" ? "Width" : "Height"}</label>
            <InputNumber
              id={`area-${extent}`}
              size="small"
              aria-label={`${extent === "width" ? "Width" : "Height"} of the area`}
              min={48}
              step={8}
              value={area[extent]}
              onChange={(value) =>
                value !== null && edit("Size the area", [{ op: "replace", path: here("areas", id, extent), value: snap(value) }])
              }
            />
          </div>
        ))}
      {area && (
        <div className={cx("row", "wide")}>
          <label htmlFor="area-tone">Tone</label>
          <Select
            id="area-tone"
            size="small"
            aria-label="Tone of the area"
            value={area.tone ?? "plain"}
            options={tones}
            onChange={(tone) => edit("Change tone", [{ op: "add", path: here("areas", id, "tone"), value: tone }])}
          />
        </div>
      )}
      <div className={cx("buttons")}>
        <Button size="small" onClick={removeSelected}>
          Delete
        </Button>
      </div>
    </>
  );
}
