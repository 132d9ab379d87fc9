import { download } from "../api/download";
import { notify, notifyError, useBench } from "./bench";
import { probesOf } from "./document";
import { shownSheet, signalsOf } from "./plotSheets";

/** Curves as data: in files, and as a table for the clipboard. */

export type DataForm = "csv" | "parquet" | "arrow";

/** The signals that are meant: those of the shown sheet, or of the traces under the diagram. */
export function plottedSignals(): string[] {
  const { stage, model, sheet } = useBench.getState();
  return stage === "observe"
    ? [...new Set(signalsOf(shownSheet({ model, sheet })[1]).map((s) => s.signal))]
    : probesOf(model).map((p) => p.reference);
}

/** @param every Distance of the points, s; null for those that were computed. */
function address(signals: readonly string[], form: DataForm | "tabs", every: number | null): string {
  const query = new URLSearchParams([
    ["form", form],
    ...(every === null ? [] : [["every", String(every)]]),
    ...signals.map((s) => ["signal", s]),
  ] as [string, string][]);
  return `/api/runs/${useBench.getState().run?.id}/table?${query}`;
}

/** Saves curves as a file; what the server refuses is told. */
export async function saveCurves(signals: readonly string[], form: DataForm, every: number | null = null): Promise<void> {
  const answer = await fetch(address(signals, form, every));
  if (!answer.ok) return notifyError(await problemOf(answer));
  download(await answer.blob(), `run.${form}`);
}

/** Copies curves as spreadsheets take them. */
export async function copyCurves(signals: readonly string[], every: number | null = null): Promise<void> {
  const answer = await fetch(address(signals, "tabs", every));
  if (!answer.ok) return notifyError(await problemOf(answer));
  try {
    await navigator.clipboard.writeText((await answer.text()).replaceAll("\r\n", "\n"));
    notify("Copied as a table.");
  } catch {
    notifyError("The browser does not let this page write to the clipboard. Save it as a file instead.");
  }
}

async function problemOf(answer: Response): Promise<string> {
  const problem = (await answer.json().catch(() => null)) as { title?: string; detail?: string } | null;
  return [problem?.title, problem?.detail].filter(Boolean).join(" ") || `The server answered ${answer.status}.`;
}
