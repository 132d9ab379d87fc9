import { useEffect } from "react";
import { api, ask } from "../api/client";
import { notifyError, offer, useBench } from "../state/bench";
import { goToModel, goToPlace } from "../ui/routes";

/** Says what to do instead, whenever a change was tried where the model is only looked at. */
export function useTellOnlyLooking(): void {
  useEffect(
    () =>
      useBench.subscribe((now, before) => {
        if (now.refused === before.refused) return;
        // Whoever tried it may go on as if it had been done: what it then selects and tells is of nothing.
        queueMicrotask(() => {
          useBench.setState({ selection: before.selection });
          tell();
        });
      }),
    [],
  );
}

function tell(): void {
  const { may, id, stage, level } = useBench.getState();
  if (may === "view") offer("You may look at this model and run it, but not change it.", "Make a copy of your own", () => void copyOfOwn());
  else offer("This link is for looking at the model.", "Change it here", () => goToPlace(id, stage, level));
}

async function copyOfOwn(): Promise<void> {
  const { id, revision } = useBench.getState();
  try {
    goToModel((await ask(api.POST("/api/models/{id}/copies", { params: { path: { id } }, body: { revision, name: null } }))).id);
  } catch (e) {
    notifyError((e as Error).message);
  }
}
