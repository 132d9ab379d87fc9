import classNames from "classnames/bind";
import { Select } from "antd";
import { useShallow } from "zustand/react/shallow";
import { select, useBench } from "../../../state/bench";
import type { ChartName, Phase, Schedule } from "../../../state/document";
import { addPhase, inOrder, setCommand, setPhase } from "../../../state/tables";
import { TextField } from "../../../ui/TextField";
import { CoverBar } from "./CoverBar";
import { useItemCoverage } from "./useItemCoverage";
import { useFlags } from "./useFlags";
import styles from "./table.module.css";

const cx = classNames.bind(styles);

const WAYS = [
  { value: "step", label: "at once" },
  { value: "ramp", label: "in a line" },
  { value: "smooth", label: "smoothly" },
];

/** Phases in columns, one after the other; commands in rows, each with what it does in a phase. */
export function ScheduleSheet({ table }: { table: Schedule }) {
  const { selection, values, lit } = useBench(useShallow((s) => ({ selection: s.selection, values: s.values, lit: s.view.table?.lit })));
  const flags = useFlags();
  const covered = useItemCoverage();
  const phases = inOrder(table.phases);
  const commands = inOrder(table.names).filter(([, n]) => n.kind === "output");
  const goesOn = (id: string) => values.get(lit?.[id] ?? "") === 1;
  const head = (id: string) => ({
    className: cx(flags[id], { lit: goesOn(id), chosen: selection.has(id) }),
    onFocus: () => !selection.has(id) && select([id]),
  });
  const text = (id: string, member: "lasts" | "until", value: string | undefined) =>
    setPhase(id, member === "lasts" ? "Change how long a phase lasts" : "Change what ends a phase", { [member]: value });
  return (
    <table className={cx("sheet", "schedule")} aria-label={`Schedule ${table.name}`}>
      <thead>
        <tr>
          <th scope="row">Phase</th>
          {phases.map(([id, p], i) => (
            <th key={id} scope="col" {...head(id)} data-cell={`0,${i}`} aria-label={`Phase ${p.name}${goesOn(id) ? ", goes on" : ""}`}>
              <TextField
                label={`Name of phase ${i + 1}`}
                prose
                value={p.name}
                commit={(name) => setPhase(id, "Rename a phase", { name })}
              />
              <CoverBar found={covered.get(id)} />
            </th>
          ))}
        </tr>
        {(["lasts", "until"] as const).map((member, row) => (
          <tr key={member}>
            <th scope="row">{member === "lasts" ? "lasts" : "until"}</th>
            {phases.map(([id, p], i) => (
              <td key={id} {...head(id)} data-cell={`${row + 1},${i}`}>
                <TextField
                  label={`${p.name} ${member}`}
                  value={p[member] ?? ""}
                  placeholder={member === "lasts" ? ended(p, i === phases.length - 1 && !table.repeats) : undefined}
                  commit={(value) => text(id, member, value)}
                  onEmpty={() => text(id, member, undefined)}
                />
              </td>
            ))}
          </tr>
        ))}
      </thead>
      <tbody>
        {commands.map(([command, n], row) => (
          <tr key={command}>
            <th scope="row" className={cx({ chosen: selection.has(command) })}>
              <button type="button" onClick={() => select([command])} title={n.description}>
                {n.name}
                {n.unit && <small> {n.unit}</small>}
              </button>
            </th>
            {phases.map(([id, p], i) => (
              <td key={id} {...head(id)} data-cell={`${row + 3},${i}`}>
                <CommandCell phase={id} of={p} command={command} name={n} />
              </td>
            ))}
          </tr>
        ))}
        {commands.length === 0 && (
          <tr>
            <td colSpan={phases.length + 1} className="quiet">
              No commands yet.
            </td>
          </tr>
        )}
      </tbody>
      <caption>
        A phase ends when its time is over or its condition holds. An empty command stays where it is.{" "}
        {phases.length === 0 && (
          <button type="button" onClick={() => void addPhase(null)}>
            Add the first phase
          </button>
        )}
      </caption>
    </table>
  );
}

const ended = (phase: Phase, isLast: boolean) => (isLast ? "to the end" : phase.until ? "no limit" : "how long");

/** What a command does in a phase. */
function CommandCell({ phase, of, command, name }: { phase: string; of: Phase; command: string; name: ChartName }) {
  const does = of.commands[command];
  const label = `${of.name}, ${name.name}`;
  return (
    <div className={cx("command")}>
      <TextField
        label={label}
        placeholder="stays"
        value={does?.to ?? ""}
        commit={(to) => setCommand(phase, command, { to })}
        onEmpty={() => setCommand(phase, command, null)}
      />
      {does && name.type === "Real" && (
        <Select
          size="small"
          variant="borderless"
          className={cx("way")}
          aria-label={`How ${label} gets there`}
          value={does.way}
          options={WAYS}
          popupMatchSelectWidth={false}
          onChange={(way) => setCommand(phase, command, { way, ...(way === "step" ? { over: undefined } : {}) })}
        />
      )}
      {does && does.way !== "step" && (
        <TextField
          label={`Time of ${label}`}
          placeholder={of.lasts ? `over ${of.lasts}` : "over"}
          value={does.over ?? ""}
          commit={(over) => setCommand(phase, command, { over })}
          onEmpty={() => setCommand(phase, command, { over: undefined })}
        />
      )}
    </div>
  );
}
