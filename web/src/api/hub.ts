import { HubConnectionBuilder, LogLevel } from "@microsoft/signalr";

export interface Changed {
  modelId: string;
  revision: number;
  client: string | null;
}

export interface Progress {
  runId: string;
  part: number;
}

/** Joins a model's live connection; returns the way to leave. */
export function joinModel(modelId: string, changed: (c: Changed) => void, progress: (p: Progress) => void, parts: () => void): () => void {
  const connection = new HubConnectionBuilder().withUrl("/hub").withAutomaticReconnect().configureLogging(LogLevel.None).build();
  connection.on("changed", changed);
  connection.on("progress", progress);
  connection.on("parts", parts);
  const join = () => connection.invoke("Join", modelId).catch(() => undefined);
  connection.onreconnected(join);
  const started = connection.start().then(join, () => undefined);
  return () => void started.then(() => connection.stop());
}
