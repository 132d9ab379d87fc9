import ELK from "elkjs/lib/elk-api";
import workerUrl from "elkjs/lib/elk-worker.min.js?url";
import type { PartView } from "../api/client";
import type { Diagram } from "../state/document";
import { graphOf, placesOf, type Places } from "./tidy";

/** Layouts are made beside the page, so that it stays quick. */
const elk = new ELK({ workerFactory: () => new Worker(workerUrl) });

/** Lays parts of a level out in layers from left to right. */
export async function tidy(diagram: Diagram, views: Record<string, PartView>, ids: ReadonlySet<string>): Promise<Places> {
  return placesOf(await elk.layout(graphOf(diagram, views, ids)), diagram, ids);
}
