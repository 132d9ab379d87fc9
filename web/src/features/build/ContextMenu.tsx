import { Dropdown, type MenuProps } from "antd";
import { useRef } from "react";
import { useBench } from "../../state/bench";
import type { Point } from "../../state/document";
import { addNote } from "../../state/edits";
import { selectionActions, type Action } from "../../state/selection";
import { keys, keyText } from "../../ui/keys";

/** A menu that was asked for: where on the host, and where on the diagram. */
export interface MenuRequest {
  x: number;
  y: number;
  at: Point;
}

interface Props {
  request: MenuRequest;
  onPlace: () => void;
  onRename: (id: string) => void;
  onReplace: (id: string) => void;
  onWire: () => void;
  onClose: () => void;
}

/** What can be done with what is selected, under the pointer. */
export function ContextMenu({ request, onPlace, onRename, onReplace, onWire, onClose }: Props) {
  const { selection, diagram } = useBench.getState();
  const [only] = selection;
  const isChosen = useRef(false);
  const actions: { label: string; keys?: string; run: Action["run"] }[] = selectionActions().map((a) => ({
    label: a.label,
    keys: a.keys && keyText(keys[a.keys]),
    run: a.run,
  }));
  if (selection.size === 1 && only !== undefined && only in diagram.parts)
    actions.unshift(
      { label: "Rename", keys: keyText(keys.rename), run: () => onRename(only) },
      { label: "Wire to another port", keys: keyText(keys.wire), run: onWire },
      { label: "Replace by another part", run: () => onReplace(only) },
    );
  if (selection.size === 0)
    actions.unshift(
      { label: "Place a part", keys: keyText(keys.place), run: onPlace },
      { label: "Write a note", run: () => void addNote(request.at) },
    );
  const items: MenuProps["items"] = actions.map((a) => ({ key: a.label, label: a.label, extra: a.keys }));
  return (
    <Dropdown
      open
      autoFocus
      menu={{
        items,
        onClick: ({ key }) => {
          // The menu tells of its own closing later, when a name may be being typed already.
          isChosen.current = true;
          onClose();
          const done = actions.find((a) => a.label === key)?.run();
          void Promise.resolve(done).then((part) => part && onRename(part));
        },
      }}
      onOpenChange={(open) => !open && !isChosen.current && onClose()}
      trigger={["click"]}
    >
      <span data-ui style={{ position: "absolute", left: request.x, top: request.y }} />
    </Dropdown>
  );
}
