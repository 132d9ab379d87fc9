import { parseKeybinding } from "tinykeys";

/** The keys of the bench, each said once: what is bound, what the finder shows and what stands on buttons. */
export const keys = {
  help: "F1",
  find: "$mod+K",
  undo: "$mod+Z",
  redo: "$mod+Y",
  redoAlso: "$mod+Shift+Z",
  copy: "$mod+C",
  cut: "$mod+X",
  paste: "$mod+V",
  duplicate: "$mod+D",
  all: "$mod+A",
  flip: "$mod+M",
  rotate: "$mod+Shift+M",
  open: "Enter",
  enclose: "Shift+Enter",
  dissolve: "$mod+Shift+Enter",
  leave: "Escape",
  rename: "F2",
  nextWire: "]",
  lastWire: "[",
  remove: "Delete",
  removeAlso: "Backspace",
  place: "/",
  wire: ".",
  alternative: ",",
  fit: "0",
  keep: "$mod+Shift+K",
  replay: "$mod+Shift+P",
} as const;

const names: Record<string, string> = { Control: "Ctrl", Meta: "⌘" };

/** Keys as people read them: Ctrl K. */
export const keyText = (binding: string): string =>
  parseKeybinding(binding)
    .map(([modifiers, , key]) => [...modifiers.map((m) => names[m] ?? m), String(key)].join(" "))
    .join(", ");
