import { useBench } from "../state/bench";

/** What of the help is about each stage. */
const ofStage: Record<string, string> = {
  build: "guide/diagram",
  observe: "guide/observe",
  tune: "guide/tune",
  explore: "guide/explore",
  verify: "guide/verify",
  deliver: "guide/deliver",
};

/** The topic about what is selected; about the stage where nothing is. */
export function topicAtHand(): string {
  const { selection, diagram, catalog, view, chart, table, valve, stage } = useBench.getState();
  const [only] = selection;
  const part = only !== undefined && selection.size === 1 ? diagram.parts[only] : undefined;
  if (part && catalog.has(part.type) && !view.ownParts.some((p) => p.name === part.type)) return `part/${part.type}`;
  if (stage !== "build") return ofStage[stage] ?? "guide/the-bench";
  if (chart) return "state-charts";
  if (table) return "guide/decision-tables-and-schedules";
  if (valve) return "guide/physical-parts";
  return part ? "guide/levels" : "guide/diagram";
}
