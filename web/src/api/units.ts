import { ApiError, type Schemas } from "./client";

/** Sends an exchange unit; the server reads it, tries it and keeps it. */
export async function takeUnit(file: File): Promise<Schemas["TakenUnit"]> {
  const response = await fetch("/api/units", { method: "POST", headers: { "content-type": "application/octet-stream" }, body: file });
  if (response.ok) return (await response.json()) as Schemas["TakenUnit"];
  if (response.status === 413) throw new Error(`${file.name} is too large. At most 64 MB are taken.`);
  const answer = (await response.json().catch(() => null)) as { title?: string; detail?: string; advice?: string } | null;
  throw new ApiError(response.status, answer?.detail ?? answer?.title ?? "The file cannot be taken.", answer?.advice);
}
