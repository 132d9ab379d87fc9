import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { queueIdle } from "../../state/model";
import { useAnswer } from "../../state/useAnswer";

/** What a study comes to, with a part of its rows. */
export function useDesign(study: string, limit: number, offset = 0) {
  const { model, node, revision } = useBench(
    useShallow((s) => ({ model: s.id, node: s.model.studies[study], revision: s.view.resultsRevision })),
  );
  return useAnswer<Schemas["StudyDesignView"]>(
    node
      ? async () => {
          await queueIdle();
          return ask(
            api.GET("/api/models/{id}/studies/{study}/design", { params: { path: { id: model, study }, query: { offset, limit } } }),
          );
        }
      : null,
    // Charts are of no matter to the rows.
    JSON.stringify([model, study, { ...node, charts: null, name: null }, revision, limit, offset]),
  );
}
