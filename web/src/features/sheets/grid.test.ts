import { describe, expect, it } from "vitest";
import type { Sheet } from "../../state/sheets";
import { columnsOf, copyText, moved, parseCells, pasteOperations, rowsFor, setCell, textOf } from "./grid";

const sheet: Sheet = {
  name: "Masses",
  chooser: "supplier",
  active: '"North"',
  columns: { n: { name: "North" }, s: { name: "South" } },
  rows: {
    r1: { name: "J1", unit: "kg.m2", group: "rotors", values: { n: "0.4", s: "0.5" } },
    r2: { name: "c1", unit: "N.m/rad", values: { n: "800" } },
  },
};
const columns = columnsOf(sheet);
const at = (row: number, column: number) => ({ row, column });

describe("a sheet as a grid", () => {
  it("has the values beside the names, and the rest behind them", () => {
    expect(columns.map((c) => c.head)).toEqual(["Name", "North", "South", "Unit", "At least", "At most", "Group", "Description"]);
    expect(columns.map((c) => textOf(sheet.rows.r2, c))).toEqual(["c1", "800", "", "N.m/rad", "", "", "", ""]);
  });

  it("finds rows by words of name, group and description", () => {
    expect(rowsFor(sheet, "")).toEqual(["r1", "r2"]);
    expect(rowsFor(sheet, "ROT j")).toEqual(["r1"]);
  });

  it("sets a cell, empties it, and leaves what is the same", () => {
    const south = columns[2] as (typeof columns)[number];
    expect(setCell("m", "r2", south, "900", "")).toEqual([{ op: "add", path: "/sheets/m/rows/r2/values/s", value: "900" }]);
    expect(setCell("m", "r1", south, "", "0.5")).toEqual([{ op: "remove", path: "/sheets/m/rows/r1/values/s" }]);
    expect(setCell("m", "r1", south, "0.5", "0.5")).toEqual([]);
  });

  it("reads what a spreadsheet copies, quoted cells too", () => {
    expect(parseCells('a\t1\r\nb\t"x\ty\n""z"""\n')).toEqual([
      ["a", "1"],
      ["b", 'x\ty\n"z"'],
    ]);
    expect(parseCells("5")).toEqual([["5"]]);
  });

  it("pastes over values and adds named rows below the last", () => {
    const operations = pasteOperations("m", sheet, ["r1", "r2"], at(1, 0), parseCells("other\t900\t950\nJ2\t7\t\tkg.m2\n2x\t1"));
    // The name of a row that is there stays; a line without a name that could be one is left.
    expect(operations.slice(0, 2)).toEqual([
      { op: "add", path: "/sheets/m/rows/r2/values/n", value: "900" },
      { op: "add", path: "/sheets/m/rows/r2/values/s", value: "950" },
    ]);
    expect(operations).toHaveLength(3);
    expect(operations[2]?.value).toEqual({ name: "J2", unit: "kg.m2", values: { n: "7" } });
  });

  it("copies what lies between two corners", () => {
    expect(copyText(sheet, ["r1", "r2"], at(1, 3), at(0, 1))).toBe("0.4\t0.5\tkg.m2\n800\t\tN.m/rad");
  });

  it("moves within its edges", () => {
    expect(moved(at(0, 0), "ArrowUp", 2, 8, 10)).toEqual(at(0, 0));
    expect(moved(at(0, 3), "PageDown", 2, 8, 10)).toEqual(at(1, 3));
    expect(moved(at(1, 3), "End", 2, 8, 10)).toEqual(at(1, 7));
    expect(moved(at(1, 3), "x", 2, 8, 10)).toBeNull();
  });
});
