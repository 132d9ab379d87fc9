import type { CatalogPart } from "../api/client";

/** Everything of a part that a search can meet, in small letters; made once for each part. */
const searchable = new WeakMap<CatalogPart, { title: string; keywords: string; all: string }>();

function textsOf(part: CatalogPart) {
  let texts = searchable.get(part);
  if (!texts) {
    const units = [...part.parameters.map((p) => p.unit), ...part.ports.map((p) => p.domain)].filter(Boolean).join(" ");
    const own = [
      part.title,
      part.name,
      part.group,
      part.keywords,
      part.help,
      part.article,
      units,
      part.operators.join(" "),
      part.equations.join(" "),
    ];
    texts = { title: part.title.toLowerCase(), keywords: part.keywords.toLowerCase(), all: own.join(" ").toLowerCase() };
    searchable.set(part, texts);
  }
  return texts;
}

/** Parts that answer a search, best first: by name, then by keyword, unit and equation; recent ones earlier. */
export function searchParts(catalog: Iterable<CatalogPart>, text: string, recent: readonly string[]): CatalogPart[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const whole = words.join(" ");
  const scored: [number, CatalogPart][] = [];
  for (const part of catalog) {
    const { title, keywords, all } = textsOf(part);
    if (!words.every((w) => all.includes(w))) continue;
    let score = title === whole ? 0 : title.startsWith(whole) ? 1 : title.includes(whole) ? 2 : keywords.includes(whole) ? 3 : 4;
    const lately = recent.indexOf(part.name);
    if (lately >= 0) score -= 0.9 - lately * 0.05;
    scored.push([score, part]);
  }
  return scored.sort((a, b) => a[0] - b[0] || a[1].title.localeCompare(b[1].title)).map(([, p]) => p);
}
