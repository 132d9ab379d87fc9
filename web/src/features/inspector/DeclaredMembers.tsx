import classNames from "classnames/bind";
import { ArrowUpOutlined, CloseOutlined } from "@ant-design/icons";
import { Button, Select } from "antd";
import type { Schemas } from "../../api/client";
import { restructure } from "../../state/model";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

type Member = Schemas["DeclaredMember"];

const SIGNALS = [
  { value: "Real", label: "number" },
  { value: "Integer", label: "whole" },
  { value: "Boolean", label: "true/false" },
];

const isNumber = (kind: string) => kind === "Real" || kind === "Integer";

interface Props {
  part: string;
  bundle: Schemas["BundleTypeView"];
  rename: (member: string, to: string) => void;
}

/** The members that a type declares, in their order, for all bundles of the type. */
export function DeclaredMembers({ part, bundle, rename }: Props) {
  const change = (members: Member[]) =>
    void restructure({
      kind: "declareBundle",
      part,
      definition: bundle.definition,
      name: bundle.type as string,
      description: bundle.description,
      members,
    });
  const set = (at: number, fields: Partial<Member>) => change(bundle.members.map((m, i) => (i === at ? { ...m, ...fields } : m)));
  const up = (at: number) => change(bundle.members.map((m, i, all) => (i === at ? all[at - 1]! : i === at - 1 ? all[at]! : m)));
  return (
    <section aria-label={`Members of ${bundle.type}`}>
      <h3>
        {bundle.type} declares {bundle.members.length}
      </h3>
      <ul className={cx("declared")}>
        {bundle.members.map((m, i) => (
          <li key={m.name}>
            <TextField label={`Name of the member ${m.name}`} value={m.name} prose commit={(to) => rename(m.name, to)} />
            <Select
              size="small"
              aria-label={`Kind of ${m.name}`}
              value={m.kind}
              options={[...SIGNALS, ...bundle.types.filter((t) => t !== bundle.type).map((t) => ({ value: t, label: t }))]}
              onChange={(kind: string) => set(i, { kind, unit: isNumber(kind) ? m.unit : null })}
              popupMatchSelectWidth={false}
            />
            <Button
              type="text"
              size="small"
              icon={<ArrowUpOutlined />}
              disabled={i === 0}
              aria-label={`Move ${m.name} up`}
              onClick={() => up(i)}
            />
            <Button
              type="text"
              size="small"
              icon={<CloseOutlined />}
              aria-label={`Take ${m.name} out of ${bundle.type}`}
              onClick={() => change(bundle.members.filter((_, at) => at !== i))}
            />
            <TextField
              label={`What ${m.name} is`}
              value={m.description ?? ""}
              placeholder="what it is"
              prose
              commit={(description) => set(i, { description })}
              onEmpty={() => set(i, { description: null })}
            />
            {isNumber(m.kind) && (
              <TextField
                label={`Unit of ${m.name}`}
                value={m.unit ?? ""}
                placeholder="unit"
                commit={(unit) => set(i, { unit })}
                onEmpty={() => set(i, { unit: null })}
              />
            )}
          </li>
        ))}
      </ul>
      <TextField
        label={`Name of a new member of ${bundle.type}`}
        value=""
        placeholder="Add a member"
        prose
        commit={(name) => change([...bundle.members, { name, kind: "Real", unit: null, size: null, description: null }])}
      />
    </section>
  );
}
