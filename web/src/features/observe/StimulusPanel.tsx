import classNames from "classnames/bind";
import { Button, Radio, Select } from "antd";
import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { runSettings, useBench } from "../../state/bench";
import { addStimulus, addTrack, drives, removeStimulus, renameStimulus } from "../../state/stimuli";
import { TextField } from "../../ui/TextField";
import { findSignals } from "../../state/signals";
import { SignalSelect } from "../../ui/SignalSelect";
import { TrackEditor } from "./TrackEditor";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** Courses that drive sources and inputs: which of them drives the runs, and their points. */
export function StimulusPanel() {
  const { stimuli, chosen } = useBench(useShallow((s) => ({ stimuli: s.model.stimuli, chosen: runSettings(s).stimulus })));
  const [open, setOpen] = useState<string | null>(null);
  const shown = open && stimuli[open] ? open : chosen && stimuli[chosen] ? chosen : Object.keys(stimuli)[0];
  return (
    <section aria-label="Stimuli">
      <Radio.Group
        aria-label="What drives the runs"
        value={chosen}
        onChange={(e) => drives(e.target.value as string)}
        className={cx("stimuli")}
        options={[
          { value: "", label: "the model’s own sources" },
          ...Object.entries(stimuli).map(([id, s]) => ({ value: id, label: s.name })),
        ]}
      />
      <div className={cx("acts")}>
        <Button size="small" onClick={() => setOpen(addStimulus())}>
          New stimulus
        </Button>
        {Object.keys(stimuli).length > 1 && (
          <Select
            size="small"
            aria-label="Stimulus to edit"
            value={shown}
            onChange={setOpen}
            options={Object.entries(stimuli).map(([id, s]) => ({ value: id, label: s.name }))}
          />
        )}
      </div>
      {shown && stimuli[shown] && <Stimulus key={shown} id={shown} />}
    </section>
  );
}

function Stimulus({ id }: { id: string }) {
  const node = useBench((s) => s.model.stimuli[id]);
  if (!node) return null;
  return (
    <div className={cx("stimulus")}>
      <div className={cx("apart-head")}>
        <TextField label="Name of the stimulus" title value={node.name} commit={(name) => renameStimulus(id, name)} />
        <Button type="link" size="small" onClick={() => removeStimulus(id)}>
          Remove
        </Button>
      </div>
      {Object.entries(node.tracks).map(([track, t]) => (
        <TrackEditor key={track} stimulus={id} id={track} track={t} />
      ))}
      <SignalSelect
        find={findSignals}
        label="Signal of a new track"
        placeholder="Drive a source or an input…"
        className={cx("wide-select")}
        value={null}
        onChange={(signal) => void addTrack(id, signal)}
      />
    </div>
  );
}
