import { describe, expect, it } from "vitest";
import { shownText, typedOver, unitOf } from "./typedUnit";

describe("a value as it is read", () => {
  it("has dots and powers in its unit as people write them", () => {
    expect(shownText("0.08 kg.m2")).toBe("0.08 kg·m²");
    expect(shownText("9.81 m/s2")).toBe("9.81 m/s²");
    expect(shownText("120 kg")).toBe("120 kg");
    expect(shownText("0.8 Ohm")).toBe("0.8 Ω");
    expect(shownText("20 degC")).toBe("20 °C");
    expect(shownText("3 1/s2")).toBe("3 1/s²");
  });

  it("stays as it was typed where it is an expression or a bare number", () => {
    expect(shownText("2*net_m")).toBe("2*net_m");
    expect(shownText("1.5e-3")).toBe("1.5e-3");
  });
});

describe("unitOf", () => {
  it("finds the unit behind a number", () => {
    const texts = ["0.4 kW/K", "20 ms", "5%", "1e-3 N.m", "0.7 1/s", "-2 °", "3 µm", ".5 rad/s"];
    expect(texts.map(unitOf)).toEqual(["kW/K", "ms", "%", "N.m", "1/s", "°", "µm", "rad/s"]);
  });

  it("finds none where there is none", () => {
    expect(["5", "1e3", "2*k", "k", "{1, -1}", "sin(2)", "2 k + 1", ""].map(unitOf)).toEqual(Array(8).fill(null));
  });
});

describe("typedOver", () => {
  it("keeps the unit that stood there", () => {
    expect(typedOver("0.4 kW/K", "12")).toBe("12 kW/K");
    expect(typedOver("20 ms", " 1e-2 ")).toBe("1e-2 ms");
  });

  it("leaves everything else as it is typed", () => {
    expect(typedOver("0.4 kW/K", "12 W/K")).toBe("12 W/K");
    expect(typedOver("0.4", "12")).toBe("12");
    expect(typedOver("0.4 kW/K", "2*k")).toBe("2*k");
  });
});
