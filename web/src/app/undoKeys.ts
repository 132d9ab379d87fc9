import { move } from "../state/model";

/**
 * Undo and redo of the model from everywhere on the bench. A field that holds something not yet taken over keeps its own undo, and a text editor has taken the
 * key already while it has something to undo; everything else means the model.
 */
export const undoKey = (direction: "undo" | "redo") => (e: KeyboardEvent) => {
  if (e.defaultPrevented || (e.target instanceof Element && keepsItsUndo(e.target))) return;
  e.preventDefault();
  void move(direction);
};

/** Whether a field is being edited: its text is another one than the model holds. */
export function keepsItsUndo(target: Element): boolean {
  if (target.closest("[role='dialog'], .ant-modal")) return true;
  if (target instanceof HTMLTextAreaElement) return target.value !== target.defaultValue;
  if (!(target instanceof HTMLInputElement)) return false;
  return target.dataset.draft === undefined ? target.value !== target.defaultValue : target.dataset.draft === "true";
}
