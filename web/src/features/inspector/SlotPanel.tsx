import classNames from "classnames/bind";
import { CloseOutlined } from "@ant-design/icons";
import { Button, Popover, Radio } from "antd";
import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { choose } from "../../state/alternatives";
import { useBench } from "../../state/bench";
import { searchParts } from "../../state/catalogSearch";
import { restructure } from "../../state/model";
import { OptionList } from "../../ui/OptionList";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** The realisations of a slot: which is in, their names, more of them. */
export function SlotPanel({ part, slot }: { part: string; slot: Schemas["SlotView"] }) {
  const [adding, setAdding] = useState(false);
  const rename = (name: string, to: string) => void restructure({ kind: "renameAlternative", part, name, to });
  const remove = (name: string) => void restructure({ kind: "removeAlternative", part, name });
  const add = (type: string | null) => {
    setAdding(false);
    void restructure({ kind: "addAlternative", part, type, name: null });
  };
  return (
    <section aria-label="Alternatives">
      <h3>Alternatives</h3>
      <Radio.Group className={cx("alternatives")} value={slot.present} disabled={!slot.isGiven}>
        {slot.names.map((name) => (
          <div key={name} className={cx("alternative")}>
            <Radio value={name} aria-label={`Put ${name} in`} onChange={() => choose(part, name)} />
            <TextField label={`Name of the alternative ${name}`} value={name} prose commit={(to) => rename(name, to)} />
            <Button
              type="text"
              size="small"
              icon={<CloseOutlined />}
              disabled={slot.names.length < 2}
              aria-label={`Remove the alternative ${name}`}
              onClick={() => remove(name)}
            />
          </div>
        ))}
      </Radio.Group>
      {!slot.isGiven && <p className="quiet">Which is in follows from the expression above.</p>}
      <div className={cx("buttons")}>
        <Popover
          trigger="click"
          placement="bottomRight"
          open={adding}
          onOpenChange={setAdding}
          destroyOnHidden
          content={<AlternativeChoice onChoose={add} onEscape={() => setAdding(false)} />}
        >
          <Button size="small" aria-expanded={adding}>
            Add an alternative
          </Button>
        </Popover>
        {slot.present && (
          <Button size="small" onClick={() => void restructure({ kind: "keepAlternative", part, name: slot.present as string })}>
            Keep this one alone
          </Button>
        )}
      </div>
    </section>
  );
}

/** What a realisation can be: a new subsystem with the slot's ports, a definition of the model, a part. */
function AlternativeChoice({ onChoose, onEscape }: { onChoose: (type: string | null) => void; onEscape: () => void }) {
  const { catalog, recent } = useBench.getState();
  const [text, setText] = useState("");
  const options = useMemo(
    () => [
      ...(text === "" ? [{ label: "New subsystem with these ports", note: "empty", choose: () => onChoose(null) }] : []),
      ...searchParts(catalog.values(), text, recent)
        .filter((p) => p.group !== "Ports")
        .slice(0, 8)
        .map((p) => ({ label: p.title, note: p.group, choose: () => onChoose(p.name) })),
    ],
    [catalog, recent, text, onChoose],
  );
  return (
    <div data-ui>
      <OptionList
        label="What the alternative is"
        placeholder="A part or a definition of this model"
        text={text}
        onText={setText}
        options={options}
        nothing="No part is called so."
        onEscape={onEscape}
      />
    </div>
  );
}
