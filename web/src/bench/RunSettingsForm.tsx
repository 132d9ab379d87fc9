import { Select } from "antd";
import { pointer } from "../state/document";
import { edit, useBench } from "../state/store";
import { TextField } from "../inspector/TextField";

const methods = [
  { value: "auto", label: "Automatic", help: "Chooses for you: the explicit pair of order 5(4)." },
  { value: "dopri54", label: "Dormand–Prince 5(4)", help: "Step size follows the error; for smooth models." },
  { value: "rk4", label: "Runge–Kutta 4, fixed step", help: "Equal steps, as on a real-time target." },
];

/** End time, method and tolerances of a model's runs. */
export function RunSettingsForm() {
  const s = useBench((b) => b.document.settings);
  const put = (name: string, value: unknown) => edit(`Set ${name}`, [{ op: "replace", path: pointer("settings", name), value }]);
  const number = (name: string, text: string) => {
    const value = Number(text);
    if (Number.isFinite(value) && value > 0) put(name, value);
  };
  return (
    <div className="settings-form">
      <label>
        End <TextField label="End time" value={s.end} commit={(t) => put("end", t)} />
      </label>
      <label>
        Method{" "}
        <Select
          size="small"
          aria-label="Method"
          value={s.method}
          options={methods}
          onChange={(v) => put("method", v)}
          popupMatchSelectWidth={false}
        />
      </label>
      <p className="quiet">{methods.find((m) => m.value === s.method)?.help}</p>
      {s.method === "rk4" ? (
        <label>
          Step <TextField label="Step" value={s.step} commit={(t) => put("step", t)} />
        </label>
      ) : (
        <>
          <label>
            Relative tolerance{" "}
            <TextField label="Relative tolerance" value={String(s.relativeTolerance)} commit={(t) => number("relativeTolerance", t)} />
          </label>
          <label>
            Absolute tolerance{" "}
            <TextField label="Absolute tolerance" value={String(s.absoluteTolerance)} commit={(t) => number("absoluteTolerance", t)} />
          </label>
        </>
      )}
    </div>
  );
}
