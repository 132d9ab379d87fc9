import { describe, expect, it } from "vitest";
import { arrayOf, columnsOf } from "./columns";

describe("columnsOf", () => {
  it("reads columns from a file with a heading", () => {
    expect(columnsOf("time,level\n0,1.5\n2,-3e-1\n")).toEqual([
      ["0", "2"],
      ["1.5", "-3e-1"],
    ]);
  });

  it("takes a comma for a decimal sign where semicolons part the columns", () => {
    expect(columnsOf("0,5;1\r\n1,5;2")).toEqual([
      ["0.5", "1.5"],
      ["1", "2"],
    ]);
  });

  it("reads what a spreadsheet copies, one column too", () => {
    expect(columnsOf("1\t10\n2\t20")).toEqual([
      ["1", "2"],
      ["10", "20"],
    ]);
    expect(arrayOf(columnsOf("1\n2\n3")[0]!)).toBe("{1, 2, 3}");
  });

  it("finds nothing in a text without numbers", () => {
    expect(columnsOf("no numbers\nhere")).toEqual([]);
  });
});
