import { Select } from "antd";
import classNames from "classnames/bind";
import { useState } from "react";
import type { Schemas } from "../api/client";
import styles from "./ui.module.css";

const cx = classNames.bind(styles);

type Candidate = Schemas["FactorCandidate"];

interface Props {
  /** Looks for what has such a name. */
  find: (text: string) => Promise<readonly Candidate[]>;
  /** Only candidates of one kind; all where nobody says. */
  kind?: string;
  label?: string;
  placeholder?: string;
  onFound: (c: Candidate) => void;
}

/** Finds anything that runs can set: parameters at any level, alternatives, stimuli, faults. */
export function FindFactor({ find, kind, label = "Vary something more", placeholder = "vary…", onFound }: Props) {
  const [found, setFound] = useState<readonly Candidate[]>([]);
  const search = (text: string) =>
    void find(text).then(
      (all) => setFound(all.filter((c) => kind === undefined || c.kind === kind)),
      () => setFound([]),
    );
  return (
    <Select
      size="small"
      showSearch={{ filterOption: false, onSearch: search }}
      className={cx("find-factor")}
      aria-label={label}
      placeholder={placeholder}
      value={null}
      popupMatchSelectWidth={false}
      options={found.map((c) => ({
        value: c.target,
        label: (
          <span className={cx("candidate")}>
            {c.label} <span className="quiet">{c.present ?? c.kind}</span>
          </span>
        ),
      }))}
      onFocus={() => search("")}
      onChange={(target: string | null) => {
        const one = found.find((c) => c.target === target);
        if (one) onFound(one);
      }}
    />
  );
}
