import { describe, expect, it } from "vitest";
import { chosen, counts, since, type Entry } from "./shelf";

const model = (name: string, more: Partial<Entry> = {}): Entry => ({
  id: name,
  name,
  folder: "",
  tags: [],
  changed: "2026-03-01T00:00:00Z",
  revision: 0,
  author: "",
  trashed: null,
  domains: [],
  runs: 0,
  studies: [],
  ...more,
});

const all = [
  model("Winch", { folder: "Sound/Winch", tags: ["cascade"], domains: ["rotational"], author: "Ines" }),
  model("Gate", { folder: "Sound", domains: ["hydraulic"], author: "Mats" }),
  model("Attic", { folder: "Soundings" }),
];
const choice = { folder: "", tag: "", domain: "", order: "recent", author: "Mats" } as const;
const names = (models: Entry[]) => models.map((m) => m.name);

describe("models that are shown", () => {
  it("are all, as they came, where nothing is chosen", () => {
    expect(names(chosen(all, choice))).toEqual(["Winch", "Gate", "Attic"]);
  });

  it("lie in a folder or in one within it, not in one whose name begins alike", () => {
    expect(names(chosen(all, { ...choice, folder: "Sound" }))).toEqual(["Winch", "Gate"]);
  });

  it("carry the tag and the domain", () => {
    expect(names(chosen(all, { ...choice, tag: "cascade" }))).toEqual(["Winch"]);
    expect(names(chosen(all, { ...choice, domain: "hydraulic" }))).toEqual(["Gate"]);
  });

  it("stand by name, or are one's own", () => {
    expect(names(chosen(all, { ...choice, order: "name" }))).toEqual(["Attic", "Gate", "Winch"]);
    expect(names(chosen(all, { ...choice, order: "mine" }))).toEqual(["Gate"]);
    // Who has not said who they are has none.
    expect(chosen(all, { ...choice, order: "mine", author: "" })).toEqual([]);
  });
});

it("counts how many models carry each word", () => {
  expect(counts(all, (m) => m.domains)).toEqual([
    ["hydraulic", 1],
    ["rotational", 1],
  ]);
});

it("says when something happened as one says it", () => {
  const now = Date.parse("2026-03-08T12:00:00Z");
  expect(since("2026-03-08T11:59:30Z", now)).toBe("just now");
  expect(since("2026-03-08T11:40:00Z", now)).toBe("20 min ago");
  expect(since("2026-03-08T10:00:00Z", now)).toBe("2 h ago");
  expect(since("2026-03-05T10:00:00Z", now)).toBe("Thursday");
  expect(since("2025-11-12T10:00:00Z", now)).toBe("12 November 2025");
});
