import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { api, ask } from "../../api/client";
import { referenceOf, type Valve } from "../../state/document";
import { useBench } from "../../state/bench";
import { placeTwin } from "../../state/valves";
import { Message } from "../../ui/Message";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** Fits a crude valve to the flows of this one and places it beside. */
export function TwinPanel({ id }: { id: string }) {
  const model = useBench((s) => s.id);
  const level = useBench((s) => s.level);
  const [drop, setDrop] = useState("35 bar");
  const [said, setSaid] = useState<{ bad: boolean; words: string } | null>(null);
  const [busy, setBusy] = useState(false);
  const fit = async () => {
    if (!model) return;
    setBusy(true);
    setSaid(null);
    try {
      const body = { part: referenceOf(level, id), drop };
      const twin = await ask(api.POST("/api/models/{id}/twin", { params: { path: { id: model } }, body }));
      placeTwin(id, twin.valve as Valve);
      setSaid({ bad: false, words: `It stands on the diagram. ${twin.words}` });
    } catch (e) {
      setSaid({ bad: true, words: [(e as Error).message, (e as { advice?: string }).advice].filter(Boolean).join(" ") });
    } finally {
      setBusy(false);
    }
  };
  return (
    <section aria-label="Crude twin">
      <h3>Crude twin</h3>
      <p className={cx("sub")}>A valve that lets through what this one does at rest, with a lag: quick in long runs.</p>
      <div className={cx("row", "wide")}>
        <label htmlFor={`${id}-twin-drop`}>Looked at with a drop of</label>
        <TextField id={`${id}-twin-drop`} label="Drop for the twin" value={drop} commit={setDrop} />
      </div>
      <div className={cx("buttons")}>
        <Button size="small" loading={busy} onClick={() => void fit()}>
          Fit a crude twin
        </Button>
      </div>
      {said?.bad && (
        <Message bad live>
          {said.words}
        </Message>
      )}
      {said && !said.bad && (
        <p className={cx("sub")} role="status">
          {said.words}
        </p>
      )}
    </section>
  );
}
