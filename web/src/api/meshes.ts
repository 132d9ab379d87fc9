import { ApiError, type Schemas } from "./client";

/** Sends a file of a mesh, and tells how much of it has gone; the server reads and checks it. */
export function takeMesh(file: File, told: (share: number) => void): Promise<Schemas["TakenMesh"]> {
  return new Promise((done, failed) => {
    const request = new XMLHttpRequest();
    request.open("POST", `/api/meshes?name=${encodeURIComponent(file.name)}`);
    request.setRequestHeader("content-type", "application/octet-stream");
    request.responseType = "json";
    request.upload.onprogress = (e) => e.lengthComputable && told(e.loaded / e.total);
    request.onerror = () => failed(new Error("The server does not answer. Is it running?"));
    request.onload = () => {
      const answer = request.response as { title?: string; detail?: string; advice?: string } | null;
      if (request.status === 200) done(request.response as Schemas["TakenMesh"]);
      else if (request.status === 413) failed(new Error(`${file.name} is too large. At most 64 MB are taken; reduce the mesh.`));
      else failed(new ApiError(request.status, answer?.detail ?? answer?.title ?? "The file cannot be taken.", answer?.advice));
    };
    request.send(file);
  });
}

/** The bytes of a mesh, and how much of it has come. */
export async function fetchMesh(hash: string, told: (bytes: number, all: number) => void): Promise<ArrayBuffer> {
  const response = await fetch(`/api/meshes/${hash}`);
  if (!response.ok || !response.body) throw new ApiError(response.status, "A mesh of the scene is gone.", "Bring its file again.");
  const all = Number(response.headers.get("content-length") ?? 0);
  const parts: Uint8Array[] = [];
  let length = 0;
  for (const reader = response.body.getReader(); ;) {
    const { done, value } = await reader.read();
    if (done) break;
    parts.push(value);
    length += value.length;
    told(length, all);
  }
  const bytes = new Uint8Array(length);
  let at = 0;
  for (const part of parts) {
    bytes.set(part, at);
    at += part.length;
  }
  return bytes.buffer;
}
