import classNames from "classnames/bind";
import { Button } from "antd";
import { useBench } from "../../state/bench";
import { levelsOf } from "../../state/document";
import { goToPart } from "../../state/model";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** Uses that are shown side by side. */
const MOST = 4;

/** Where a definition is used more than once: what its uses set otherwise than by default. */
export function UsesTable() {
  const model = useBench((s) => s.model);
  const definition = useBench((s) => s.definition);
  const parameters = useBench((s) => s.diagram.parameters);
  const levels = levelsOf(model);
  const byPath = new Map(levels.map((l) => [l.path, l]));
  const uses = levels
    .filter((l) => l.definition === definition && l.path !== "")
    .map((l) => {
      const cut = l.path.lastIndexOf("/");
      const holder = byPath.get(l.path.slice(0, Math.max(0, cut)));
      return { path: l.path, name: l.names.at(-1) ?? "", set: holder?.diagram.parts[l.path.slice(cut + 1)]?.parameters ?? {} };
    });
  if (uses.length < 2) return null;
  const shown = uses.slice(0, MOST);
  const different = Object.entries(parameters).filter(
    ([name, p]) => new Set(uses.map((u) => u.set[name] ?? p.value)).size > 1 || uses.some((u) => (u.set[name] ?? p.value) !== p.value),
  );
  return (
    <>
      <h3>
        Used {uses.length} times{uses.length > MOST ? `, ${MOST} shown` : ""}
      </h3>
      <table className={cx("uses")}>
        <thead>
          <tr>
            <th scope="col">{different.length > 0 ? "where it differs" : "all with the defaults"}</th>
            {shown.map((u) => (
              <th key={u.path} scope="col">
                <Button type="link" size="small" onClick={() => void goToPart(u.path)}>
                  {u.name}
                </Button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {different.map(([name, p]) => (
            <tr key={name}>
              <td>{p.description ?? name}</td>
              {shown.map((u) => (
                <td key={u.path} className="mono">
                  {u.set[name] ?? p.value}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet">A change of the face reaches all uses.</p>
    </>
  );
}
