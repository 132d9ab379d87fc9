import classNames from "classnames/bind";
import { Button, Checkbox, Segmented, Select } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { notifyError, useBench, type StateChoice } from "../../state/bench";
import type { Operation } from "../../state/document";
import { edit } from "../../state/model";
import { StatePicture } from "./StatePicture";
import { changesOf, countsOf, marksOf, valuesOf } from "./differences";
import styles from "./history.module.css";

const cx = classNames.bind(styles);

type Level = Schemas["LevelDifference"];
type One = Schemas["Difference"];

const requestOf = (s: StateChoice): Schemas["StateRequest"] => ({
  model: s.document === undefined ? (s.model ?? null) : null,
  revision: s.revision ?? null,
  document: s.document as never,
});

/** Two states of a model, or two models, side by side: what differs on the diagrams, as a list and as a table of values. */
export default function Comparison({ left, right }: { left: StateChoice; right: StateChoice }) {
  const { id, revision } = useBench.getState();
  const now = useBench((s) => s.revision);
  const [levels, setLevels] = useState<readonly Level[] | null>(null);
  const [at, setAt] = useState(0);
  const [picked, setPicked] = useState<string | null>(null);
  const [places, setPlaces] = useState(true);
  const [shows, setShows] = useState<"list" | "values">("list");
  const close = () => useBench.setState({ comparing: null });
  useEffect(() => {
    let wanted = true;
    ask(api.POST("/api/differences", { body: { left: requestOf(left), right: requestOf(right) } })).then(
      (found) => {
        if (!wanted) return;
        setLevels(found);
        setAt(0);
      },
      (e: Error) => {
        if (!wanted) return;
        notifyError(e.message);
        setLevels([]);
      },
    );
    return () => {
      wanted = false;
    };
  }, [left, right, now]);
  const shown = useMemo(() => changesOf(levels ?? [], !places), [levels, places]);
  const level = shown[Math.min(at, shown.length - 1)];
  const isOwn = left.model === id && left.revision === undefined && left.document === undefined;
  const take = (d: One) => edit(`Take over ${d.name}`, d.take as unknown as Operation[]);
  const marks = useMemo(() => (level ? { left: marksOf(level, "left"), right: marksOf(level, "right") } : null), [level]);
  const setSide = (side: "left" | "right", choice: StateChoice) =>
    useBench.setState({ comparing: side === "left" ? { left: choice, right } : { left, right: choice } });
  return (
    <section
      className={cx("comparison")}
      aria-label="What differs"
      data-ui
      onKeyDown={(e) => e.key === "Escape" && !e.defaultPrevented && close()}
    >
      <header>
        <StateSelect label="Left state" choice={left} onChoose={(c) => setSide("left", c)} model={id} revision={revision} />
        <Button
          size="small"
          aria-label="Exchange left and right"
          onClick={() => useBench.setState({ comparing: { left: right, right: left } })}
        >
          ⇄
        </Button>
        <StateSelect label="Right state" choice={right} onChoose={(c) => setSide("right", c)} model={id} revision={revision} />
        <span className={cx("room")} />
        <Checkbox checked={places} onChange={(e) => setPlaces(e.target.checked)}>
          what only moved
        </Checkbox>
        <Segmented
          size="small"
          aria-label="How it is shown"
          value={shows}
          onChange={setShows}
          options={[
            { value: "list", label: "Diagrams" },
            { value: "values", label: "Values" },
          ]}
        />
        <Button size="small" onClick={close}>
          Close
        </Button>
      </header>
      {levels === null ? (
        <p className={cx("nothing")}>Comparing …</p>
      ) : shown.length === 0 ? (
        <p className={cx("nothing")}>Nothing differs{places ? "" : " but places"}.</p>
      ) : shows === "values" ? (
        <Values levels={shown} left={left.label} right={right.label} />
      ) : (
        <div className={cx("body")}>
          <nav aria-label="Levels on which something differs">
            {shown.map((l, i) => (
              <section key={`${l.name} ${l.left}`}>
                <Button
                  type="text"
                  size="small"
                  className={cx("level", { on: l === level })}
                  aria-pressed={l === level}
                  onClick={() => setAt(i)}
                >
                  {l.name === "" ? "Model" : l.name} <small className="quiet">{countsOf(l)}</small>
                </Button>
                {l === level && (
                  <ul aria-label={`Differences of ${l.name || "the model"}`}>
                    {l.differences.map((d) => (
                      <li
                        key={`${d.what} ${d.left} ${d.right} ${d.fields[0]?.field ?? ""}`}
                        className={cx("difference", d.change, { picked: picked !== null && (picked === d.left || picked === d.right) })}
                      >
                        <button type="button" onClick={() => setPicked(d.left ?? d.right ?? null)}>
                          <b>{d.name}</b> <small>{d.what}</small>
                          {d.fields.map((f) => (
                            <span key={f.field} className={cx("field")}>
                              <span className="quiet">{f.field}</span> {f.left ?? "–"} → {f.right ?? "–"}
                            </span>
                          ))}
                        </button>
                        {isOwn && d.take.length > 0 && (
                          <Button
                            size="small"
                            type="text"
                            aria-label={`Take over ${d.what} ${d.name} from the right`}
                            onClick={() => take(d)}
                          >
                            Take
                          </Button>
                        )}
                      </li>
                    ))}
                  </ul>
                )}
              </section>
            ))}
          </nav>
          {level && level.name !== "" ? (
            <div className={cx("pictures")}>
              {(["left", "right"] as const).map((side) => {
                const state = side === "left" ? left : right;
                const path = level[side];
                return (
                  <figure key={side}>
                    <figcaption>{state.label}</figcaption>
                    {path === null || path === undefined ? (
                      <p className={cx("nothing")}>This level is not there.</p>
                    ) : (
                      <StatePicture
                        state={requestOf(state)}
                        stamp={state.revision === undefined ? now : 0}
                        level={path}
                        marks={marks?.[side] ?? new Map()}
                        onPick={setPicked}
                      />
                    )}
                  </figure>
                );
              })}
            </div>
          ) : (
            <p className={cx("nothing")}>What belongs to no level: texts, sheets, requirements, settings.</p>
          )}
        </div>
      )}
    </section>
  );
}

/** Values that differ, of all levels. */
function Values({ levels, left, right }: { levels: readonly Level[]; left: string; right: string }) {
  const rows = valuesOf(levels);
  if (rows.length === 0) return <p className={cx("nothing")}>No value differs.</p>;
  return (
    <div className={cx("values")} tabIndex={0} role="region" aria-label="Values that differ">
      <table>
        <thead>
          <tr>
            <th scope="col">Level</th>
            <th scope="col">Part</th>
            <th scope="col">Parameter</th>
            <th scope="col">{left}</th>
            <th scope="col">{right}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={`${r.level} ${r.part} ${r.field}`}>
              <td>{r.level}</td>
              <td>{r.part}</td>
              <td className="mono">{r.field}</td>
              <td className="mono">{r.left ?? "–"}</td>
              <td className="mono">{r.right ?? "–"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface StateSelectProps {
  label: string;
  choice: StateChoice;
  onChoose: (choice: StateChoice) => void;
  model: string;
  revision: number;
}

/** Chooses a state: now, a checkpoint, a revision, another model, or a file. */
function StateSelect({ label, choice, onChoose, model, revision }: StateSelectProps) {
  const [checkpoints, setCheckpoints] = useState<readonly Schemas["Checkpoint"][]>([]);
  const [models, setModels] = useState<readonly Schemas["ModelSummary"][]>([]);
  const file = useRef<HTMLInputElement>(null);
  useEffect(() => {
    void ask(api.GET("/api/models/{id}/history", { params: { path: { id: model }, query: { limit: 1 } } })).then(
      (h) => setCheckpoints(h.checkpoints),
      () => undefined,
    );
    void ask(api.GET("/api/models")).then(setModels, () => undefined);
  }, [model]);
  const options = [
    {
      label: "This model",
      options: [
        { value: "now", label: "now" },
        ...checkpoints.map((c) => ({ value: `r${c.revision}`, label: `${c.name} (r${c.revision})` })),
        ...(choice.model === model && choice.revision !== undefined && !checkpoints.some((c) => c.revision === choice.revision)
          ? [{ value: `r${choice.revision}`, label: `r${choice.revision}` }]
          : []),
        { value: "r0", label: "as it was made (r0)" },
      ],
    },
    { label: "Other models", options: models.filter((m) => m.id !== model).map((m) => ({ value: `m${m.id}`, label: m.name })) },
    {
      label: "Elsewhere",
      options: [
        { value: "file", label: "A model file …" },
        ...(choice.document === undefined ? [] : [{ value: "given", label: choice.label }]),
      ],
    },
  ];
  const value =
    choice.document !== undefined
      ? "given"
      : choice.model !== model
        ? `m${choice.model}`
        : choice.revision === undefined
          ? "now"
          : `r${choice.revision}`;
  const choose = (v: string) => {
    if (v === "file") file.current?.click();
    else if (v === "now") onChoose({ label: "now", model });
    else if (v.startsWith("m")) onChoose({ label: models.find((m) => `m${m.id}` === v)?.name ?? "model", model: v.slice(1) });
    else if (v.startsWith("r")) {
      const at = Number(v.slice(1));
      onChoose({ label: checkpoints.find((c) => c.revision === at)?.name ?? v, model, revision: Math.min(at, revision) });
    }
  };
  const read = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      onChoose({ label: chosen.name, document: JSON.parse(await chosen.text()) as unknown });
    } catch {
      notifyError(`${chosen.name} is no model file: it is no JSON.`);
    }
  };
  return (
    <>
      <Select
        size="small"
        className={cx("state")}
        aria-label={label}
        value={value}
        options={options}
        onChange={choose}
        showSearch={{ optionFilterProp: "label" }}
        popupMatchSelectWidth={false}
      />
      <input
        ref={file}
        type="file"
        className="unseen"
        accept=".json"
        aria-label={`File for the ${label.toLowerCase()}`}
        tabIndex={-1}
        onChange={(e) => {
          void read(e.target.files?.[0]);
          e.target.value = "";
        }}
      />
    </>
  );
}
