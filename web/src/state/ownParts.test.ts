import { describe, expect, it } from "vitest";
import { renamedText } from "./ownParts";

describe("renamedText", () => {
  it("renames the class where it begins and where it ends, and nothing else", () => {
    const text = 'block Lag "Lag of a Lag"\n  Real Lags;\nequation\n  Lags = 1;\nend Lag;\n';
    expect(renamedText(text, "Lag", "OwnLag")).toBe('block OwnLag "Lag of a Lag"\n  Real Lags;\nequation\n  Lags = 1;\nend OwnLag;\n');
  });

  it("leaves classes inside as they are", () => {
    const text = "model A\n  model B\n  end B;\n  B b;\nend A;";
    expect(renamedText(text, "A", "OwnA")).toBe("model OwnA\n  model B\n  end B;\n  B b;\nend OwnA;");
  });
});
