import classNames from "classnames/bind";
import { AutoComplete, Button, InputNumber } from "antd";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { findFactors } from "../../state/factors";
import { FindFactor } from "../../ui/FindFactor";
import { queueIdle } from "../../state/model";
import { addTolerance, putIntoGroup, removeTolerance, setGroup, setTolerance, tolerancesOf } from "../../state/toleranceEdits";
import { useAnswer } from "../../state/useAnswer";
import { TextField } from "../../ui/TextField";
import styles from "./explore.module.css";

const cx = classNames.bind(styles);

/** How far values of the model may lie from what is written down, and which of them vary together. */
export function TolerancesTable() {
  const { model, tolerances, groups, revision } = useBench(
    useShallow((s) => ({
      model: s.id,
      tolerances: s.model.tolerances,
      groups: s.model.toleranceGroups,
      revision: s.view.resultsRevision,
    })),
  );
  const { answer } = useAnswer<Schemas["TolerancesView"]>(
    async () => {
      await queueIdle();
      return ask(api.GET("/api/models/{id}/tolerances", { params: { path: { id: model } } }));
    },
    JSON.stringify([model, tolerances, groups, revision]),
  );
  const views = new Map((answer?.tolerances ?? []).map((v) => [v.id, v]));
  const all = tolerancesOf(tolerances);
  return (
    <div className={cx("design")}>
      <p className={cx("lead")}>
        How far values may lie from what is written down: <span className="mono">± 5 %</span>, <span className="mono">± 2 mm normal</span>,{" "}
        <span className="mono">uniform(1, 2)</span>, or <span className="mono">limits</span> for those of a sheet. Studies draw them where
        their design says so.
      </p>
      {answer?.problem != null && all.length > 0 && (
        <p className={cx("refusal")} role="alert">
          {answer.problem}
        </p>
      )}
      <div className={cx("table-host")}>
        <table className={cx("texts")} aria-label="Tolerances of the model">
          <thead>
            <tr>
              <th scope="col">value</th>
              <th scope="col">now</th>
              <th scope="col">tolerance</th>
              <th scope="col">as it is drawn</th>
              <th scope="col">varies with</th>
              <td aria-hidden />
            </tr>
          </thead>
          <tbody>
            {all.map(([id, t]) => {
              const view = views.get(`t~${id}`);
              const label = view?.label ?? t.target;
              return (
                <tr key={id}>
                  <td>{label}</td>
                  <td className="mono">{view?.present ?? ""}</td>
                  <td className="mono">
                    <TextField
                      label={`Tolerance of ${label}`}
                      value={t.values}
                      invalid={view?.problem != null}
                      commit={(values) => setTolerance(id, { values })}
                    />
                  </td>
                  <td className={cx({ problem: view?.problem != null })}>{view?.problem ?? view?.told ?? ""}</td>
                  <td>
                    <GroupField
                      label={label}
                      name={t.group ? (groups[t.group]?.name ?? "") : ""}
                      onName={(name) => putIntoGroup(id, name)}
                    />
                  </td>
                  <td>
                    <Button type="text" size="small" aria-label={`Remove the tolerance of ${label}`} onClick={() => removeTolerance(id)}>
                      ×
                    </Button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
        <div className={cx("more")}>
          <FindFactor
            find={findFactors(model)}
            kind="parameter"
            placeholder="add…"
            onFound={(c) => addTolerance(c.target, c.label)}
            label="Give a value a tolerance"
          />
        </div>
      </div>
    </div>
  );
}

/** Which tolerances vary together, and how much. */
export function ToleranceGroups() {
  const { groups, tolerances } = useBench(useShallow((s) => ({ groups: s.model.toleranceGroups, tolerances: s.model.tolerances })));
  return (
    <section aria-label="Groups of tolerances">
      <h3>Groups</h3>
      {Object.keys(groups).length === 0 && (
        <p className="quiet">
          Values of one batch vary together: name what a value “varies with”, and give others the same name. Their correlation is then set
          here.
        </p>
      )}
      {Object.entries(groups).map(([id, g]) => (
        <div key={id} className={cx("group")} role="group" aria-label={`Group ${g.name}`}>
          <TextField label="Name of the group" prose value={g.name} commit={(name) => setGroup(id, { name })} />
          <label title="Of the normal variables behind any two of the group; 1 lets them vary as one">
            correlation
            <InputNumber
              size="small"
              aria-label={`Correlation of ${g.name}`}
              min={-1}
              max={1}
              step={0.1}
              value={Number(g.correlation)}
              onBlur={(e) => {
                const next = Number(e.target.value);
                if (e.target.value !== "" && next >= -1 && next <= 1 && next !== Number(g.correlation)) setGroup(id, { correlation: next });
              }}
              onPressEnter={(e) => e.currentTarget.blur()}
            />
          </label>
          <span className="quiet">{Object.values(tolerances).filter((t) => t.group === id).length} values</span>
        </div>
      ))}
    </section>
  );
}

/** The name of a group: one that is there, or a new one. */
function GroupField({ label, name, onName }: { label: string; name: string; onName: (name: string) => void }) {
  const groups = useBench((s) => s.model.toleranceGroups);
  return (
    <AutoComplete
      key={name}
      size="small"
      className={cx("group-field")}
      aria-label={`${label} varies with`}
      defaultValue={name}
      placeholder="nothing"
      options={[...new Set(Object.values(groups).map((g) => g.name))].map((value) => ({ value }))}
      onSelect={(value: string) => onName(value)}
      onBlur={(e) => onName((e.target as HTMLInputElement).value.trim())}
    />
  );
}
