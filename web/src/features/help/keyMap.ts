import { keys, keyText } from "../../ui/keys";

/** What each key does on the bench, in words. */
const words: Record<keyof typeof keys, string> = {
  help: "Help for what is selected",
  find: "Find a part, signal or command",
  undo: "Undo",
  redo: "Redo",
  redoAlso: "Redo",
  copy: "Copy what is selected",
  cut: "Cut what is selected",
  paste: "Paste",
  duplicate: "Duplicate what is selected",
  all: "Select all of the level",
  flip: "Mirror the selected parts",
  rotate: "Turn the selected parts",
  open: "Go into the selected part",
  enclose: "Make a subsystem of what is selected",
  dissolve: "Dissolve the selected subsystem",
  leave: "Leave the level, or give up what is under way",
  rename: "Rename the selected part",
  nextWire: "Select the next wire",
  lastWire: "Select the wire before",
  remove: "Delete what is selected",
  removeAlso: "Delete what is selected",
  place: "Place a part by typing its name",
  wire: "Wire the selected port to another by typing",
  alternative: "Choose another realisation of the selected slot",
  fit: "Show the whole level",
  keep: "Keep the present run",
  replay: "Replay the run, or pause it",
};

/** The keyboard map: keys with what they do. */
export const keyMap = (): [string, string][] =>
  (Object.keys(words) as (keyof typeof keys)[]).map((name) => [keyText(keys[name]), words[name]]);
