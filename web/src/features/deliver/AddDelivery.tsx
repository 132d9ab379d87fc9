import { Button, Select } from "antd";
import classNames from "classnames/bind";
import { useState } from "react";
import { addDelivery, readCandidates, type Candidate } from "../../state/deliveries";
import styles from "./deliver.module.css";

const cx = classNames.bind(styles);

/** Chooses a part that is to be handed on. */
export function AddDelivery() {
  const [parts, setParts] = useState<readonly Candidate[] | null>(null);
  const [busy, setBusy] = useState(false);
  const open = async () => {
    setBusy(true);
    setParts(await readCandidates());
    setBusy(false);
  };
  if (!parts)
    return (
      <Button size="small" loading={busy} onClick={() => void open()}>
        Add a part
      </Button>
    );
  return (
    <Select
      size="small"
      className={cx("add")}
      autoFocus
      defaultOpen
      showSearch
      optionFilterProp="label"
      aria-label="Part to hand on"
      placeholder="Part to hand on"
      notFoundContent="No part has signals alone as inputs and outputs. Make a subsystem of the controller first."
      popupMatchSelectWidth={false}
      options={[
        { label: "Made in this model", options: parts.filter((p) => p.isOwn).map(option) },
        { label: "Of the catalog", options: parts.filter((p) => !p.isOwn).map(option) },
      ].filter((g) => g.options.length > 0)}
      onChange={(part: string) => {
        setParts(null);
        addDelivery(
          part,
          parts
            .find((p) => p.part === part)
            ?.name.split(" / ")
            .at(-1) ?? part,
        );
      }}
      onBlur={() => setParts(null)}
    />
  );
}

const option = (p: Candidate) => ({ value: p.part, label: p.name.replaceAll(".", " / ") });
