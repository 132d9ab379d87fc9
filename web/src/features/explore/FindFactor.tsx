import { Select } from "antd";
import classNames from "classnames/bind";
import { useState } from "react";
import { api, ask } from "../../api/client";
import type { Candidate } from "../../state/studyEdits";
import styles from "./explore.module.css";

const cx = classNames.bind(styles);

interface Props {
  model: string;
  /** Only candidates of one kind; all where nobody says. */
  kind?: string;
  label?: string;
  onFound: (c: Candidate) => void;
}

/** Finds anything that can be varied. */
export function FindFactor({ model, kind, label = "Vary something more", onFound }: Props) {
  const [found, setFound] = useState<readonly Candidate[]>([]);
  const search = (text: string) =>
    void ask(api.GET("/api/models/{id}/factors", { params: { path: { id: model }, query: { search: text } } })).then(
      (all) => setFound(all.filter((c) => kind === undefined || c.kind === kind)),
      () => setFound([]),
    );
  return (
    <Select
      size="small"
      showSearch={{ filterOption: false, onSearch: search }}
      className={cx("find-factor")}
      aria-label={label}
      placeholder={kind === undefined ? "vary…" : "add…"}
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
