import { fits, leaves } from "../canvas/geometry";
import { copyCurves, plottedSignals, saveCurves } from "../state/curveData";
import { connect } from "../state/edits";
import { move } from "../state/model";
import { notify, setStage, setWireCurves, showPane, useBench } from "../state/bench";
import { setRange, startRun } from "../state/runs";
import { addSheet, openSheet } from "../state/sheets";
import { keepPresent } from "../state/observe";
import { beginPlay, toggleReplay } from "../state/play";
import { addAlert, addPanel } from "../state/panels";
import { placeChart, readChart } from "../state/charts";
import { placeDecisions, placeSchedule } from "../state/tables";
import { placeValve } from "../state/valves";
import { addSheet as addPlots } from "../state/plotSheets";
import { tidyLevel } from "../state/tidying";
import { selectionActions } from "../state/selection";
import { keys } from "../ui/keys";
import { lookLink } from "../ui/routes";
import { stages } from "./stages";

/** Something that can be done from anywhere on the bench. */
export interface Command {
  label: string;
  /** The keys it is bound to. */
  keys?: string;
  run: () => void;
}

/** What can be done now: a new command is entered here, and the finder and the lists of keys have it. */
export function commands(): Command[] {
  const { selection, diagram, run } = useBench.getState();
  const parts = [...selection].filter((i) => i in diagram.parts);
  const onSelection: Command[] = selectionActions().map((a) => ({ label: a.label, keys: a.keys && keys[a.keys], run: () => void a.run() }));
  const [a, b] = parts;
  if (a !== undefined && b !== undefined && parts.length === 2)
    onSelection.unshift({ label: `Connect ${diagram.parts[a]?.name} to ${diagram.parts[b]?.name}`, run: () => connectParts(a, b) });
  return [
    ...onSelection,
    { label: "Run", run: () => void startRun() },
    ...(run
      ? [
          { label: "Keep the present curves beside the next ones", keys: keys.keep, run: keepPresent },
          { label: "Replay the run, or stop the replay", keys: keys.replay, run: toggleReplay },
        ]
      : []),
    { label: "Add an operator panel", run: () => (setStage("build"), addPanel()) },
    { label: "Add an alert", run: addAlert },
    { label: "Place a state chart", run: () => (setStage("build"), void placeChart({ x: 96, y: 96 })) },
    { label: "Place a decision table", run: () => (setStage("build"), void placeDecisions({ x: 96, y: 96 })) },
    { label: "Place a directional valve", run: () => (setStage("build"), void placeValve({ x: 96, y: 96 })) },
    { label: "Place a schedule", run: () => (setStage("build"), void placeSchedule({ x: 96, y: 96 })) },
    { label: "Place a state chart from a file (state chart XML)", run: () => (setStage("build"), void readChart()) },
    { label: "Play a run by hand", run: () => void beginPlay() },
    { label: "New sheet of plots", run: () => (setStage("observe"), void addPlots()) },
    { label: "Copy a link for looking at this place", run: copyLookLink },
    { label: "Undo", keys: keys.undo, run: () => void move("undo") },
    { label: "Redo", keys: keys.redo, run: () => void move("redo") },
    { label: "Show the outline", run: () => (setStage("build"), showPane("outline")) },
    ...Object.entries(useBench.getState().model.sheets ?? {}).map(([id, s]) => ({
      label: `Open the sheet ${s.name}`,
      run: () => (setStage("build"), openSheet(id)),
    })),
    { label: "New sheet", run: () => (setStage("build"), addSheet()) },
    { label: "Show the history", run: () => (setStage("build"), showPane("history")) },
    { label: "Show the catalog", run: () => (setStage("build"), showPane("catalog")) },
    {
      label: "Show small curves on the wires, or hide them",
      run: () => (setStage("build"), setWireCurves(!useBench.getState().wireCurves)),
    },
    { label: "Fit the time axis", run: () => setRange(null) },
    ...stages.map((s) => ({ label: s.label, run: () => setStage(s.id) })),
    ...(["svg", "png", "pdf"] as const).map((form) => ({
      label: `Write this level as a picture (${form.toUpperCase()})`,
      run: () => void import("../features/build/pictures").then((p) => p.savePicture(form)),
    })),
    ...(run
      ? [
          ...(
            [
              ["csv", "a table (CSV)"],
              ["parquet", "columns (Parquet)"],
              ["arrow", "columns (Arrow)"],
            ] as const
          ).map(([form, as]) => ({ label: `Save the plotted curves as ${as}`, run: () => void saveCurves(plottedSignals(), form) })),
          { label: "Copy the plotted curves as a table", run: () => void copyCurves(plottedSignals()) },
        ]
      : []),
    { label: "Tidy the level or the selection", run: () => (setStage("build"), void tidyLevel()) },
    { label: "Export the model as a file", run: () => exportModel("export", "json") },
    { label: "Export the model as text of the equation language", run: () => exportModel("text", "mo") },
  ];
}

/** The first two ports of two parts that fit and are free: wiring without a pointer. */
export function connectParts(a: string, b: string): void {
  const { view, diagram } = useBench.getState();
  const wired = new Set(Object.values(diagram.wires).flatMap((w) => [`${w.from.part}.${w.from.port}`, `${w.to.part}.${w.to.port}`]));
  const free = (part: string) =>
    [...(view.parts[part]?.ports ?? [])].sort((p, q) => Number(wired.has(`${part}.${p.name}`)) - Number(wired.has(`${part}.${q.name}`)));
  for (const from of free(a))
    for (const to of free(b))
      if (leaves(from, to) && fits(from, to) && (to.domain || !wired.has(`${b}.${to.name}`)))
        return connect({ part: a, port: from.name }, { part: b, port: to.name });
}

/** A link to what is shown, for others who are to look at it. */
function copyLookLink(): void {
  const { id, stage, level } = useBench.getState();
  const link = lookLink(id, stage, level);
  // Browsers give the clipboard only to pages that come encrypted or from this machine.
  const told = () => notify(`A link for looking: ${link}`);
  if (!navigator.clipboard) return told();
  navigator.clipboard.writeText(link).then(() => notify("The link for looking is in the clipboard."), told);
}

export function exportModel(form: string, ending: string): void {
  const { id, model } = useBench.getState();
  download(`/api/models/${id}/${form}`, `${model.definitions[model.root]?.name}.${ending}`);
}

function download(href: string, name: string): void {
  const link = window.document.createElement("a");
  link.href = href;
  link.download = name;
  link.click();
}
