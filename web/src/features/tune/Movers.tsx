import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { useTune, whereOf } from "../../state/tune";
import { format } from "../../ui/format";
import { useAnswer } from "../../state/useAnswer";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

interface Props {
  mode: Schemas["ModeView"];
  /** Draws the poles over a parameter. */
  follow: (parameter: string) => void;
}

/** Which parameters move a mode most. */
export function Movers({ mode, follow }: Props) {
  const where = useTune(useShallow(whereOf));
  const { id, revision } = useBench(useShallow((s) => ({ id: s.id, revision: s.revision })));
  const { re, im } = mode;
  const { answer, problem, busy } = useAnswer<Schemas["MoversAnswer"]>(
    () => ask(api.POST("/api/models/{id}/modes/movers", { params: { path: { id } }, body: { ...where, re: Number(re), im: Number(im) } })),
    JSON.stringify([id, revision, where, re, im]),
  );
  if (problem) return <p className="quiet">{problem.message}</p>;
  return (
    <table className={cx("mode-table")} aria-label="What moves the mode" aria-busy={busy}>
      <thead>
        <tr>
          <th scope="col">one percent more of</th>
          <th scope="col">frequency</th>
          <th scope="col">damping</th>
        </tr>
      </thead>
      <tbody>
        {answer?.movers.map((m) => (
          <tr key={m.parameter}>
            <td>
              <button type="button" className={cx("link")} title="Draw the poles over it" onClick={() => follow(m.parameter)}>
                {m.parameter}
              </button>
            </td>
            <td className="mono">{format(Number(m.frequency), 2)} %</td>
            <td className="mono">{format(Number(m.damping), 2)}</td>
          </tr>
        ))}
        {answer && Number(answer.looked) < Number(answer.all) && (
          <tr>
            <td colSpan={3} className="quiet">
              {answer.looked} of {answer.all} parameters were looked at.
            </td>
          </tr>
        )}
        {answer?.movers.length === 0 && (
          <tr>
            <td colSpan={3} className="quiet">
              No parameter moves it.
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
