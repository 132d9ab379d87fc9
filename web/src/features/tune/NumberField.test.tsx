import { act } from "react";
import { createRoot } from "react-dom/client";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { NumberField } from "./NumberField";

Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });

let host: HTMLElement;

beforeEach(() => {
  host = document.body.appendChild(document.createElement("form"));
});

afterEach(() => host.remove());

function type(put: (v: number) => void, text: string, key: string) {
  const submitted = vi.fn((e: Event) => e.preventDefault());
  host.addEventListener("submit", submitted);
  const root = createRoot(host);
  act(() => root.render(<NumberField label="Bandwidth" value={2} put={put} />));
  const input = host.querySelector("input") as HTMLInputElement;
  act(() => {
    Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set?.call(input, text);
    input.dispatchEvent(new Event("input", { bubbles: true }));
  });
  const event = new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true });
  act(() => void input.dispatchEvent(event));
  return { input, prevented: event.defaultPrevented };
}

test("a number is taken with Enter, and nothing around it is sent", () => {
  const put = vi.fn();
  const { prevented } = type(put, "3.5", "Enter");
  expect(put).toHaveBeenCalledWith(3.5);
  expect(prevented).toBe(true);
});

test.each(["abc", "", "-1", "0"])("what is no number above zero, as %j, is put back", (text) => {
  const put = vi.fn();
  const { input } = type(put, text, "Enter");
  expect(put).not.toHaveBeenCalled();
  expect(input.value).toBe("2");
});

test("Escape leaves the number as it was", () => {
  const put = vi.fn();
  const { input } = type(put, "9", "Escape");
  expect(put).not.toHaveBeenCalled();
  expect(input.value).toBe("2");
});
