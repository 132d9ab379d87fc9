import { api, ask, type Schemas } from "../api/client";
import { client } from "./author";
import { notifyError, useBench } from "./bench";
import { inOrder, type Delivery } from "./deliveries";
import { queueIdle } from "./model";
import { refreshCurves, refreshRuns } from "./observe";
import { goOn, setPace, takeUp } from "./play";

/** Code of deliveries on a target, which has the plant of a played run. */

export type TargetView = Schemas["TargetView"];
export type StepCost = Schemas["StepCostView"];
export type TargetKind = Schemas["TargetKind"];
export type HandOver = Schemas["HandOver"];

const get = useBench.getState;

/** What can have the same plant in turn: the code of the same part, the given one first. */
export function takers(deliveries: Readonly<Record<string, Delivery>>, first: string): string[] {
  const part = deliveries[first]?.part;
  const others = inOrder(deliveries).filter(([id, d]) => id !== first && d.part === part && d.kind === "code");
  return [first, ...others.map(([id]) => id)];
}

/** Begins a run with the code of a delivery in its part's place, and lets it go. */
export async function runOnTarget(delivery: string, kind: TargetKind = "process"): Promise<void> {
  const { id, model } = get();
  try {
    await queueIdle();
    const started = await ask(
      api.POST("/api/models/{id}/targets", {
        params: { path: { id }, query: { client } },
        body: { deliveries: takers(model.deliveries, delivery), kind },
      }),
    );
    const before = get();
    await takeUp(started.id);
    // The model's own run stays beside it, to be compared.
    const own = before.run && !before.run.target ? before.run.id : null;
    if (own) useBench.setState({ overlays: [...new Set([...get().overlays, own])], ghost: own, ghostTraces: before.traces });
    await refreshCurves();
    // People turn knobs by their own clocks; a simulated board goes as fast as it can.
    await setPace(kind === "process" ? 1 : null);
    await goOn();
    await refreshRuns();
  } catch (e) {
    const { message, advice } = e as Error & { advice?: string };
    notifyError([message, advice].filter(Boolean).join(" "));
  }
}

/** Looks at the target of the run that is shown. */
export async function readTarget(): Promise<void> {
  const shown = get().run;
  if (!shown?.target) return;
  const target = await ask(api.GET("/api/runs/{id}/target", { params: { path: { id: shown.id } } })).catch(() => null);
  const { run } = get();
  if (target && run?.id === shown.id) useBench.setState({ run: { ...run, target } });
}

/** Gives the plant to another unit, by its number from 1. */
export async function handOver(unit: number): Promise<void> {
  const { run } = get();
  if (!run?.target) return;
  const body = { part: run.target.part, parameter: "target_unit", value: String(unit), fault: null };
  try {
    await ask(api.POST("/api/runs/{id}/set", { params: { path: { id: run.id } }, body }));
    // It takes over at the next step, which a run that stands makes when it goes on.
    const now = get().run;
    if (now?.id === run.id && now.target) useBench.setState({ run: { ...now, target: { ...now.target, active: unit } } });
  } catch (e) {
    notifyError((e as Error).message);
  }
}
