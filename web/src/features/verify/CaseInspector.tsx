import classNames from "classnames/bind";
import { Button, Dropdown, Select } from "antd";
import { useRef } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { choose, lookAt, readTable, runCases, useCases } from "../../state/cases";
import { copyCase, removeCase, setCase, type Case } from "../../state/caseEdits";
import { base64 } from "../../ui/base64";
import { format } from "../../ui/format";
import { TextField } from "../../ui/TextField";
import { CaseChecks } from "./CaseChecks";
import { CaseValues } from "./CaseValues";
import { outcomeOf } from "./words";
import styles from "./verify.module.css";

const cx = classNames.bind(styles);

/** A setting that the model has too. */
const AS_MODEL = "as the model";

/** A case: how it is run and what has to come out, and what came out the last time. */
export function CaseInspector({ id, node }: { id: string; node: Case }) {
  const row = useCases((s) => s.all?.cases.find((c) => c.id === id));
  const file = useRef<HTMLInputElement>(null);
  const model = useBench((s) => s.id);
  return (
    <>
      <TextField title label="Name of the case" value={node.name} commit={(name) => setCase(id, "Rename a case", { name })} />
      <p className={cx("chips")}>
        <span
          className={cx("chip", row?.outcome === "passed" ? "met" : row?.outcome === "failed" || row?.outcome === "broken" ? "missed" : "")}
        >
          {outcomeOf(row)}
        </span>
        {row?.outcome && row.isStale && <span className={cx("chip", "stale")}>stale</span>}
        {row?.revision != null && (
          <span className="quiet">
            r{row.revision}, {format(Number(row.seconds), 2)} s
          </span>
        )}
      </p>
      {row?.problem && <p className={cx("refusal")}>{row.problem}</p>}
      <div className={cx("acts")}>
        <Button size="small" onClick={() => void runCases({ cases: [id] })}>
          Run this case
        </Button>
        <Button size="small" onClick={() => void lookAt(id)}>
          Look at its run
        </Button>
        <Dropdown
          trigger={["click"]}
          menu={{
            items: [
              {
                key: "copy",
                label: "Copy",
                onClick: () => choose({ case: copyCase(id) }),
              },
              { key: "csv", label: <a href={`/api/models/${model}/cases/${id}/file`}>Save what it expects as CSV</a> },
              { key: "read", label: "Read what it expects from a file…", onClick: () => file.current?.click() },
              {
                key: "remove",
                label: "Remove",
                onClick: () => {
                  choose({});
                  removeCase(id);
                },
              },
            ],
          }}
        >
          <Button size="small" type="text" aria-label={`What can be done with ${node.name}`}>
            ⋯
          </Button>
        </Dropdown>
        <input
          ref={file}
          type="file"
          hidden
          accept=".csv,.xlsx,.txt"
          aria-label="A table of what the case expects"
          onChange={(e) => {
            const chosen = e.target.files?.[0];
            e.target.value = "";
            if (chosen) void base64(chosen).then((packed) => readTable(id, packed));
          }}
        />
      </div>
      <Settings id={id} node={node} />
      <h3>It sets</h3>
      <CaseValues of={{ kind: "cases", id }} values={node.values} />
      <CaseChecks id={id} node={node} />
    </>
  );
}

/** How it is run, as far as that is not as the model has it. */
function Settings({ id, node }: { id: string; node: Case }) {
  const { stimuli, points, groups, parts, settings } = useBench(
    useShallow(({ diagram, model: { stimuli, operatingPoints: points, caseGroups: groups, settings } }) => ({
      stimuli,
      points,
      groups,
      parts: diagram.parts,
      settings,
    })),
  );
  const named = (all: Readonly<Record<string, { name: string }>>, none: string) => [
    { value: AS_MODEL, label: AS_MODEL },
    { value: "", label: none },
    ...Object.entries(all).map(([value, o]) => ({ value, label: o.name })),
  ];
  const put = (key: "stimulus" | "point", value: string) =>
    setCase(id, "Change how a case is run", { [key]: value === AS_MODEL ? null : value });
  return (
    <dl className={cx("settings")}>
      <dt>Group</dt>
      <dd>
        <Select
          size="small"
          aria-label="Group of the case"
          value={node.group ?? ""}
          onChange={(group) => setCase(id, "Put a case into a group", { group: group || null })}
          options={[{ value: "", label: "none" }, ...Object.entries(groups).map(([value, g]) => ({ value, label: g.name }))]}
        />
      </dd>
      <dt>Tags</dt>
      <dd>
        <Select
          size="small"
          mode="tags"
          aria-label="Tags of the case"
          value={[...node.tags]}
          onChange={(tags) => setCase(id, "Change the tags of a case", { tags })}
          placeholder="none"
        />
      </dd>
      <dt>Run</dt>
      <dd>
        <Select
          size="small"
          aria-label="What is run"
          value={node.subject ?? ""}
          onChange={(subject) => setCase(id, "Change what a case runs", { subject: subject || null })}
          options={[
            { value: "", label: "the whole model" },
            ...Object.entries(parts).map(([value, p]) => ({ value, label: `${p.name} alone` })),
            ...(node.subject && !parts[node.subject] ? [{ value: node.subject, label: node.subject }] : []),
          ]}
        />
      </dd>
      <dt>Stimulus</dt>
      <dd>
        <Select
          size="small"
          aria-label="Stimulus of the case"
          value={node.stimulus ?? AS_MODEL}
          onChange={(v) => put("stimulus", v)}
          options={named(stimuli, "none")}
        />
      </dd>
      <dt>Begins at</dt>
      <dd>
        <Select
          size="small"
          aria-label="Where the case begins"
          value={node.point ?? AS_MODEL}
          onChange={(v) => put("point", v)}
          options={named(points, "the start values")}
        />
      </dd>
      <dt>Ends at</dt>
      <dd>
        <TextField
          label="End of the case"
          value={node.end ?? ""}
          placeholder={settings.end}
          commit={(end) => setCase(id, "Change how a case is run", { end })}
          onEmpty={() => setCase(id, "Change how a case is run", { end: null })}
        />
      </dd>
      <dt>Method</dt>
      <dd>
        <TextField
          label="Method of the case"
          value={node.method ?? ""}
          placeholder={settings.method}
          commit={(method) => setCase(id, "Change how a case is run", { method })}
          onEmpty={() => setCase(id, "Change how a case is run", { method: null })}
        />
      </dd>
    </dl>
  );
}
