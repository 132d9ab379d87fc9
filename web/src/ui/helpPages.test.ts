import { describe, expect, it } from "vitest";
import { withMathematics } from "./helpPages";

describe("a page of the help", () => {
  it("has its equations typeset", () => {
    const page = withMathematics('<div class="tex">y = k\\,u</div>');
    expect(page).toContain("katex");
    expect(page).not.toContain("k\\,u<");
  });

  it("typesets what stands between dollar signs, but not in code, and leaves a price alone", () => {
    expect(withMathematics("<p>The gain $k$ counts.</p>")).toContain("katex");
    expect(withMathematics("<p>It costs 3 $ a day.</p>")).toBe("<p>It costs 3 $ a day.</p>");
    expect(withMathematics("<p><code>a $k$ b</code></p>")).toBe("<p><code>a $k$ b</code></p>");
  });
});
