import classNames from "classnames/bind";
import { Button, Input, Upload } from "antd";
import { lazy, Suspense, useState } from "react";
import { api, ask, type ApiError } from "../../api/client";
import { notifyError, useBench } from "../../state/bench";
import type { Diagram } from "../../state/document";
import { edit, here } from "../../state/model";
import { Drawing, type Stroke } from "../../ui/Drawing";
import { MathText } from "../../ui/Math";
import { Prose } from "../../ui/Prose";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

const Sketcher = lazy(() => import("./Sketcher").then((m) => ({ default: m.Sketcher })));

type Face = NonNullable<Diagram["face"]>;

/** How uses of this level look, and what stands under their help. */
export function FacePanel() {
  const face = useBench((s) => s.diagram.face) ?? undefined;
  const [drawing, setDrawing] = useState(false);
  const [writing, setWriting] = useState(false);
  const set = (label: string, change: Partial<Face>) => {
    const next = Object.fromEntries(Object.entries({ ...face, ...change }).filter(([, v]) => v !== undefined));
    edit(label, [Object.keys(next).length === 0 ? { op: "remove", path: here("face") } : { op: "add", path: here("face"), value: next }]);
  };
  const draw = (sketch: Stroke[]) => {
    setDrawing(false);
    set("Draw the symbol", { sketch, picture: undefined });
  };
  const take = async (file: File) => {
    try {
      const bytes = new Uint8Array(await file.arrayBuffer());
      const data = btoa(Array.from(bytes, (b) => String.fromCharCode(b)).join(""));
      const { picture } = await ask(api.POST("/api/pictures", { body: { data } }));
      set("Take a picture", { picture, sketch: undefined });
    } catch (e) {
      notifyError((e as ApiError).message);
    }
  };
  const picture = face?.sketch || face?.picture ? { sketch: face.sketch ?? null, picture: face.picture ?? null } : null;
  return (
    <section aria-label="Face of the subsystem">
      <h3>Face</h3>
      <div className={cx("face-shown")}>
        {picture ? (
          <Drawing drawing={picture} />
        ) : face?.formula ? (
          <MathText tex={face.formula} />
        ) : (
          <span className="quiet">the mark of a subsystem</span>
        )}
      </div>
      <div className={cx("buttons")}>
        <Button size="small" onClick={() => setDrawing(true)}>
          Draw
        </Button>
        <Upload accept=".svg,.png,image/svg+xml,image/png" showUploadList={false} beforeUpload={(file) => (void take(file), false)}>
          <Button size="small">Import a picture</Button>
        </Upload>
        {picture && (
          <Button size="small" onClick={() => set("Remove the picture", { sketch: undefined, picture: undefined })}>
            Remove
          </Button>
        )}
      </div>
      {!picture && (
        <div className={cx("row", "wide")}>
          <label htmlFor="face-formula">Formula</label>
          <TextField
            id="face-formula"
            label="Formula on the face"
            value={face?.formula ?? ""}
            placeholder={"\\frac{1}{Ls+R}"}
            commit={(formula) => set("Change the face", { formula })}
            onEmpty={() => set("Change the face", { formula: undefined })}
          />
        </div>
      )}
      <h3>Help</h3>
      {writing ? (
        <Input.TextArea
          autoFocus
          autoSize={{ minRows: 3, maxRows: 14 }}
          aria-label="Help of the subsystem"
          placeholder="What to know when using it. Mathematics stands between dollar signs."
          defaultValue={face?.help ?? ""}
          onBlur={(e) => {
            setWriting(false);
            const help = e.target.value.trim() || undefined;
            if (help !== (face?.help ?? undefined)) set("Change the help", { help });
          }}
          onKeyDown={(e) => e.key === "Escape" && e.currentTarget.blur()}
        />
      ) : (
        <div className={cx("help-text")}>
          {face?.help && (
            <p>
              <Prose text={face.help} />
            </p>
          )}
          <Button size="small" onClick={() => setWriting(true)}>
            {face?.help ? "Change the help" : "Write a help"}
          </Button>
        </div>
      )}
      {drawing && (
        <Suspense>
          <Sketcher before={face?.sketch ?? []} onDone={draw} onCancel={() => setDrawing(false)} />
        </Suspense>
      )}
    </section>
  );
}
