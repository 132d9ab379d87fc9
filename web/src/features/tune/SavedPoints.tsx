import classNames from "classnames/bind";
import { Button } from "antd";
import { runSettings, useBench } from "../../state/bench";
import { removePoint, renamePoint, startRunsAt } from "../../state/points";
import { lookFrom, useTune } from "../../state/tune";
import { format } from "../../ui/format";
import { TextField } from "../../ui/TextField";
import { askOf, type PointAsk } from "./PointForm";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

/** The saved operating points: which one is looked at, and at which one runs begin. */
export function SavedPoints({ open }: { open: (wish: PointAsk) => void }) {
  const points = useBench((s) => s.model.operatingPoints);
  const start = useBench((s) => runSettings(s).point);
  const saved = useTune((s) => s.saved);
  const rows = Object.entries(points);
  if (rows.length === 0) return null;
  return (
    <table className={cx("mode-table")} aria-label="Saved operating points">
      <thead>
        <tr>
          <th scope="col">saved points</th>
          <th scope="col">kind</th>
          <th scope="col">look</th>
          <th scope="col">runs begin</th>
          <th scope="col">
            <span className="unseen">more</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([id, p]) => (
          <tr key={id} className={cx({ chosen: id === saved })}>
            <td>
              <TextField label={`Name of ${p.name}`} value={p.name} commit={(name) => renamePoint(id, name)} />
            </td>
            <td>{p.rests ? "at rest" : `run at ${format(Number(p.at))} s`}</td>
            <td>
              <input
                type="radio"
                name="looked-from"
                aria-label={`Look from ${p.name}`}
                checked={id === saved}
                onChange={() => lookFrom(null, id)}
              />
            </td>
            <td>
              <input
                type="checkbox"
                aria-label={`Runs begin at ${p.name}`}
                checked={id === start}
                onChange={() => startRunsAt(id === start ? "" : id)}
              />
            </td>
            <td className={cx("one-line")}>
              <Button size="small" type="text" onClick={() => open(askOf(p))}>
                Ask again
              </Button>
              <Button size="small" type="text" aria-label={`Remove ${p.name}`} onClick={() => removePoint(id)}>
                ×
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
