/** A schema of the interface description, as far as samples need it. */
export interface Schema {
  $ref?: string;
  type?: string | string[];
  enum?: unknown[];
  const?: unknown;
  properties?: Record<string, Schema>;
  required?: string[];
  items?: Schema;
  additionalProperties?: boolean | Schema;
  oneOf?: Schema[];
  anyOf?: Schema[];
  allOf?: Schema[];
}

export type Schemas = Record<string, Schema>;

/** Deeper than this a sample only says what stands there. */
const DEEPEST = 4;

export const nameOf = (ref: string) => ref.split("/").at(-1) ?? ref;

/** A value that a schema takes: what it needs, with one entry in each list. */
export function sampleOf(schema: Schema | undefined, schemas: Schemas, depth = 0): unknown {
  if (!schema) return null;
  if (schema.$ref) return depth > DEEPEST ? nameOf(schema.$ref) : sampleOf(schemas[nameOf(schema.$ref)], schemas, depth + 1);
  if (schema.const !== undefined) return schema.const;
  if (schema.enum?.length) return schema.enum[0];
  const choices = schema.oneOf ?? schema.anyOf;
  if (choices) return sampleOf(choices.find((c) => c.type !== "null") ?? choices[0], schemas, depth);
  if (schema.allOf) return Object.assign({}, ...schema.allOf.map((s) => sampleOf(s, schemas, depth))) as unknown;
  const type = Array.isArray(schema.type) ? (schema.type.find((t) => t !== "null" && t !== "string") ?? schema.type[0]) : schema.type;
  switch (type) {
    case "object":
      if (schema.properties)
        return Object.fromEntries(
          Object.entries(schema.properties)
            .filter(([name]) => schema.required?.includes(name) ?? false)
            .map(([name, inner]) => [name, sampleOf(inner, schemas, depth + 1)]),
        );
      return typeof schema.additionalProperties === "object" ? { name: sampleOf(schema.additionalProperties, schemas, depth + 1) } : {};
    case "array":
      return [sampleOf(schema.items, schemas, depth + 1)];
    case "integer":
    case "number":
      return 0;
    case "boolean":
      return false;
    default:
      return "text";
  }
}
