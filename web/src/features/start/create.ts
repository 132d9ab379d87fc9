import { api, ask, type Schemas } from "../../api/client";
import { goToModel } from "../../ui/routes";

/** Makes a model, puts it into a folder where one is given, and opens it. */
export async function create(from: Partial<Schemas["CreateRequest"]>, folder = ""): Promise<string> {
  const body = { name: null, example: null, document: null, text: null, part: null, ...from };
  const { id } = await ask(api.POST("/api/models", { body }));
  if (folder) await ask(api.PUT("/api/models/{id}/place", { params: { path: { id } }, body: { folder, tags: [] } }));
  goToModel(id);
  return id;
}

/** What a file holds that a model is made from. */
export async function fromFile(file: File): Promise<Partial<Schemas["CreateRequest"]>> {
  const text = await file.text();
  if (file.name.endsWith(".mo")) return { text };
  try {
    return { document: JSON.parse(text) as unknown };
  } catch {
    throw new Error(`${file.name} is no model: neither a document as JSON nor, by its ending, a text (.mo).`);
  }
}
