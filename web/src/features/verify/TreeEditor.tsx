import classNames from "classnames/bind";
import { Button, Dropdown, Segmented, Select } from "antd";
import { useEffect, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import {
  addBelow,
  addTree,
  readTrees,
  removeTree,
  setEvent,
  setGate,
  setTree,
  takeOut,
  treesOf,
  useTrees,
  type FaultTree,
  type TreeView,
} from "../../state/faultTrees";
import { format } from "../../ui/format";
import { TextField } from "../../ui/TextField";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

const kinds = [
  { value: "or", label: "or" },
  { value: "and", label: "and" },
  { value: "vote", label: "at least" },
];

/** A fault tree as an outline that is edited where it stands, with what it comes to beside it. */
export function TreeEditor() {
  const { model, revision, trees } = useBench(useShallow((s) => ({ model: s.id, revision: s.revision, trees: s.model.faultTrees })));
  const [drawing, setDrawing] = useState(false);
  const { views, chosen } = useTrees(useShallow((s) => ({ views: s.views, chosen: s.tree })));
  useEffect(() => void readTrees(), [revision]);
  const id = chosen !== null && trees[chosen] ? chosen : treesOf(trees)[0]?.[0];
  const tree = id ? trees[id] : undefined;
  if (!id || !tree)
    return (
      <div className={cx("matrix-pane")}>
        <p className={cx("nothing")}>
          No fault tree yet. A tree says how basic events bring about a top event, and how probable that is. Draw one, or let a search find
          which faults make a requirement missed: choose the requirement among the cases, then “Find the faults that break this”.
        </p>
        <p className={cx("nothing")}>
          <Button size="small" type="primary" onClick={() => useTrees.setState({ tree: addTree() })}>
            Draw a fault tree
          </Button>
        </p>
      </div>
    );
  const view = views.find((v) => v.id === id);
  const file = `/api/models/${model}/trees/${id}/file`;
  return (
    <div className={cx("matrix-pane")}>
      <div className={cx("matrix-head")}>
        <h2>Fault tree</h2>
        <TextField label="Name of the fault tree" prose value={tree.name} commit={(name) => setTree(id, { name })} />
        <span className="quiet">over</span>
        <span className={cx("duration")}>
          <TextField label="Time of the fault tree" value={tree.duration} commit={(duration) => setTree(id, { duration })} />
        </span>
        <Segmented
          size="small"
          aria-label="How the tree is shown"
          value={drawing ? "drawing" : "outline"}
          onChange={(value) => setDrawing(value === "drawing")}
          options={["outline", "drawing"]}
        />
        <span className={cx("grow")} />
        <Dropdown
          trigger={["click"]}
          menu={{
            items: ["svg", "csv", "xlsx"].map((form) => ({
              key: form,
              label: (
                <a href={`${file}?form=${form}`} download={`${tree.name}.${form}`}>
                  {form === "svg" ? "The drawing as SVG" : `Cut sets and importances as ${form.toUpperCase()}`}
                </a>
              ),
            })),
          }}
        >
          <Button size="small">Save</Button>
        </Dropdown>
        <Button size="small" onClick={() => useTrees.setState({ tree: addTree() })}>
          Draw another
        </Button>
        <Button size="small" onClick={() => removeTree(id)}>
          Remove
        </Button>
      </div>
      <div className={cx("tree-body")}>
        {drawing ? (
          <div className={cx("tree-drawing")}>
            <img src={`${file}?form=svg&revision=${revision}`} alt={`Fault tree ${tree.name}, drawn`} />
          </div>
        ) : (
          <div className={cx("tree-outline")} role="tree" aria-label={tree.name}>
            <Place id={id} tree={tree} place={tree.top} gate={null} view={view} above={[]} />
          </div>
        )}
        <Figures tree={tree} view={view} />
      </div>
    </div>
  );
}

function Place({
  id,
  tree,
  place,
  gate,
  view,
  above,
}: {
  id: string;
  tree: FaultTree;
  place: string;
  gate: string | null;
  view: TreeView | undefined;
  above: readonly string[];
}) {
  const faults = useBench((s) => s.model.faults);
  const node = tree.gates[place];
  const event = tree.events[place];
  const out = gate !== null && (
    <Button
      size="small"
      type="text"
      aria-label={`Take out ${node?.name ?? event?.name ?? "what is gone"}`}
      onClick={() => takeOut(id, gate, place)}
    >
      ×
    </Button>
  );
  if (event)
    return (
      <div role="treeitem" aria-selected={false} className={cx("tree-event")}>
        <TextField label="Event" prose value={event.name} commit={(name) => setEvent(id, place, { name })} />
        <TextField
          label={`Rate or probability of ${event.name}`}
          value={event.value}
          placeholder="2e-6 1/h"
          commit={(value) => setEvent(id, place, { value })}
          onEmpty={() => setEvent(id, place, { value: "" })}
        />
        <span className="mono">{view?.events[place] === undefined ? "–" : format(Number(view.events[place]), 3)}</span>
        <span className="quiet" title={event.fault ? `the fault “${faults[event.fault]?.name ?? "that is gone"}” of the model` : undefined}>
          {event.fault ? "fault" : ""}
        </span>
        {out}
      </div>
    );
  if (!node || above.includes(place))
    return (
      <div className={cx("tree-event")}>
        {node ? `${node.name}, again` : "gone"} {out}
      </div>
    );
  const elsewhere = [...Object.entries(tree.gates), ...Object.entries(tree.events)]
    .filter(([key]) => key !== place && !above.includes(key) && !node.inputs.includes(key) && key !== tree.top)
    .map(([key, n]) => ({ key, label: n.name, onClick: () => addBelow(id, place, { place: key }) }));
  return (
    <div role="treeitem" aria-selected={false} aria-expanded className={cx("tree-gate")}>
      <div className={cx("gate-line")}>
        <Select
          size="small"
          aria-label={`Kind of ${node.name}`}
          value={node.kind}
          options={kinds}
          onChange={(kind) => setGate(id, place, { kind })}
        />
        {node.kind === "vote" && (
          <span className={cx("least")}>
            <TextField
              label={`How many of ${node.name}`}
              value={String(node.least)}
              commit={(t) => Number.isInteger(Number(t)) && Number(t) > 0 && setGate(id, place, { least: Number(t) })}
            />
          </span>
        )}
        <TextField label="Gate" prose value={node.name} commit={(name) => setGate(id, place, { name })} />
        <Dropdown
          trigger={["click"]}
          menu={{
            items: [
              { key: "new event", label: "An event", onClick: () => addBelow(id, place, "event") },
              { key: "new gate", label: "A gate", onClick: () => addBelow(id, place, "gate") },
              ...(elsewhere.length > 0 ? [{ key: "there", label: "One that is there", children: elsewhere }] : []),
            ],
          }}
        >
          <Button size="small" aria-label={`Add below ${node.name}`}>
            Add
          </Button>
        </Dropdown>
        {out}
      </div>
      <div role="group" className={cx("below-gate")}>
        {node.inputs.map((i) => (
          <Place key={i} id={id} tree={tree} place={i} gate={place} view={view} above={[...above, place]} />
        ))}
      </div>
    </div>
  );
}

function Figures({ tree, view }: { tree: FaultTree; view: TreeView | undefined }) {
  if (!view) return <div className={cx("tree-figures")} />;
  if (view.probability == null)
    return (
      <div className={cx("tree-figures")}>
        <p className="quiet" role="status">
          {view.problem}
        </p>
      </div>
    );
  const most = Math.max(1e-300, ...view.importances.map((i) => Number(i.share)));
  const name = (key: string) => tree.events[key]?.name ?? key;
  return (
    <div className={cx("tree-figures")}>
      <p>
        Top event over {tree.duration}: <b className="mono">{format(Number(view.probability), 4)}</b>
      </p>
      <h3>
        Minimal cut sets <span className="quiet">{format(Number(view.count))}</span>
      </h3>
      <table aria-label="Minimal cut sets">
        <tbody>
          {view.cutSets.slice(0, 30).map((s, i) => (
            <tr key={i}>
              <td>{s.events.map(name).join(" and ")}</td>
              <td className="mono">{format(Number(s.probability), 3)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <h3>Importance</h3>
      <table aria-label="Importance of events">
        <thead>
          <tr>
            <th scope="col">event</th>
            <th scope="col" title="What share of the top event goes where it cannot happen">
              share
            </th>
            <th scope="col" title="How much more probable the top event is where it has happened than where not">
              Birnbaum
            </th>
            <th scope="col" title="How many times as probable the top event is where it has happened">
              times
            </th>
          </tr>
        </thead>
        <tbody>
          {view.importances.map((i) => (
            <tr key={i.event}>
              <td>{name(i.event)}</td>
              <td className="mono">
                <i className={cx("share")} style={{ width: `${(36 * Number(i.share)) / most}px` }} aria-hidden />
                {Math.round(100 * Number(i.share))} %
              </td>
              <td className="mono">{format(Number(i.birnbaum), 3)}</td>
              <td className="mono">{format(Number(i.achievement), 3)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
