import classNames from "classnames/bind";
import { Select } from "antd";
import { useEffect, useState } from "react";
import { api, ask, type MethodDescription } from "../../api/client";
import { pointer } from "../../state/document";
import { drives } from "../../state/stimuli";
import { edit } from "../../state/model";
import { runSettings, useBench } from "../../state/bench";
import { Message } from "../../ui/Message";
import { TextField } from "../../ui/TextField";
import styles from "./run.module.css";

const cx = classNames.bind(styles);

let known: MethodDescription[] | null = null;

/** The integration methods of this version, with one sentence of guidance each. */
function useMethods() {
  const [methods, setMethods] = useState(known ?? []);
  useEffect(() => {
    if (known) return;
    ask(api.GET("/api/methods"))
      .then((list) => setMethods((known = list as MethodDescription[])))
      .catch(() => setMethods([]));
  }, []);
  return methods;
}

/** Small numbers as people write tolerances. */
const tolerance = (value: number) => (value < 1e-3 ? value.toExponential() : String(value));

const starts = [
  { value: "given", label: "From the start values" },
  { value: "steady", label: "At rest" },
];

/** End time, method, tolerances, start and recording of a model's runs. */
export function RunSettingsForm() {
  const s = useBench(runSettings);
  const parts = useBench((b) => b.diagram.parts);
  const stimuli = useBench((b) => b.model.stimuli);
  const points = useBench((b) => b.model.operatingPoints);
  const problem = useBench((b) => b.view.findings.find((f) => f.code === "settings")?.message);
  const methods = useMethods();
  const method = methods.find((m) => m.name === s.method);
  const put = (name: string, value: unknown) => edit(`Set ${name}`, [{ op: "add", path: pointer("settings", name), value }]);
  // Start values, rest, or a saved operating point: one choice, kept in two fields.
  const start = (v: string) =>
    edit(
      "Set start",
      v in points
        ? [{ op: "add", path: pointer("settings", "point"), value: v }]
        : [
            { op: "add", path: pointer("settings", "start"), value: v },
            { op: "add", path: pointer("settings", "point"), value: "" },
          ],
    );
  const number = (name: string, text: string) => {
    const value = Number(text);
    if (Number.isFinite(value) && value > 0) put(name, value);
  };
  return (
    <div className={cx("form")}>
      {problem && (
        <Message bad live>
          {problem}
        </Message>
      )}
      <label>
        End <TextField label="End time" value={s.end} commit={(t) => put("end", t)} />
      </label>
      <label>
        Method{" "}
        <Select
          size="small"
          aria-label="Method"
          value={s.method}
          options={methods.map((m) => ({ value: m.name, label: m.title }))}
          onChange={(v) => put("method", v)}
          popupMatchSelectWidth={false}
        />
      </label>
      <p className={cx("quiet", "guidance")}>{method?.guidance ?? ""}</p>
      {method?.isFixedStep ? (
        <label>
          Step <TextField label="Step" value={s.step} commit={(t) => put("step", t)} />
        </label>
      ) : (
        <>
          <label>
            Relative tolerance{" "}
            <TextField label="Relative tolerance" value={tolerance(s.relativeTolerance)} commit={(t) => number("relativeTolerance", t)} />
          </label>
          <label>
            Absolute tolerance{" "}
            <TextField label="Absolute tolerance" value={tolerance(s.absoluteTolerance)} commit={(t) => number("absoluteTolerance", t)} />
          </label>
          <p className="quiet">A part's nominal value scales the absolute one.</p>
          <label>
            Largest step{" "}
            <TextField
              label="Largest step"
              value={s.largestStep ?? ""}
              commit={(t) => put("largestStep", t)}
              onEmpty={() => put("largestStep", "")}
            />
          </label>
          <p className="quiet">Empty leaves it to the method. Set it to a pulse's width when a short pulse follows a long rest.</p>
        </>
      )}
      {Object.keys(stimuli).length > 0 && (
        <label>
          Driven by{" "}
          <Select
            size="small"
            aria-label="Driven by"
            value={s.stimulus}
            options={[
              { value: "", label: "the model’s own sources" },
              ...Object.entries(stimuli).map(([value, u]) => ({ value, label: u.name })),
            ]}
            onChange={drives}
            popupMatchSelectWidth={false}
          />
        </label>
      )}
      <label>
        Start{" "}
        <Select
          size="small"
          aria-label="Start"
          value={s.point || (s.start ?? "given")}
          options={[...starts, ...Object.entries(points).map(([value, p]) => ({ value, label: `At ${p.name}` }))]}
          onChange={start}
          popupMatchSelectWidth={false}
        />
      </label>
      {s.start !== "steady" && !s.point && (
        <label>
          Parts at rest{" "}
          <Select
            size="small"
            mode="multiple"
            aria-label="Parts that start at rest"
            placeholder="none"
            maxTagCount={1}
            value={s.steadyParts ?? []}
            options={Object.entries(parts).map(([id, p]) => ({ value: id, label: p.name }))}
            onChange={(v) => put("steadyParts", v)}
            popupMatchSelectWidth={false}
          />
        </label>
      )}
      <label>
        Record every{" "}
        <TextField
          label="Distance of output points"
          value={s.output ?? ""}
          commit={(t) => put("output", t)}
          onEmpty={() => put("output", "")}
        />
      </label>
      <p className="quiet">{s.output ? "Events are recorded besides." : "Empty: 2000 points a run, and every event."}</p>
    </div>
  );
}
