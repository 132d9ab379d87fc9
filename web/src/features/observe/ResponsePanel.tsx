import classNames from "classnames/bind";
import { Segmented, Select } from "antd";
import { useBench } from "../../state/bench";
import { putResponse, setTile, type Tile } from "../../state/plotSheets";
import { findSignals, infoOf } from "../../state/signals";
import { SignalSelect } from "../../ui/SignalSelect";
import { SignalsSelect } from "../../ui/SignalsSelect";
import { TextField } from "../../ui/TextField";
import { Setting } from "./Setting";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

const forms = [
  { value: "gain", label: "Gain over frequency" },
  { value: "phase", label: "Phase over frequency" },
  { value: "nyquist", label: "Complex plane" },
  { value: "nichols", label: "Gain over phase" },
  { value: "step", label: "Step of the input" },
];

/** What a response tile is of: its signals, where loops are cut, and at which operating points. */
export function ResponsePanel({ id, tile }: { id: string; tile: Tile }) {
  const infos = useBench((s) => s.infos);
  const points = useBench((s) => s.model.operatingPoints);
  const now = tile.response;
  const put = (values: Parameters<typeof putResponse>[2]) => putResponse(id, tile, values);
  const end = (which: "from" | "to", label: string) => (
    <Setting label={which === "from" ? "From" : "To"}>
      <SignalSelect
        find={findSignals}
        label={label}
        placeholder="choose a signal"
        value={now?.[which] ? { signal: now[which], label: infoOf(infos, now[which])?.view.label ?? now[which] } : null}
        onChange={(signal) => put({ [which]: signal })}
      />
    </Setting>
  );
  return (
    <section aria-label="Linear response" className={cx("curve-panel")}>
      <Setting label="Title">
        <TextField
          label="Title of the plot"
          prose
          value={tile.title ?? ""}
          placeholder="after its signals"
          commit={(title) => setTile(id, "Name a plot", { title })}
          onEmpty={() => setTile(id, "Name a plot", { title: undefined })}
        />
      </Setting>
      {end("from", "The signal that goes in")}
      {end("to", "The signal that comes out")}
      <Setting label="Loops cut at">
        <SignalsSelect
          find={findSignals}
          label="Signals at which loops are cut"
          placeholder="nowhere"
          value={now?.open ?? []}
          onChange={(open) => put({ open })}
        />
      </Setting>
      <Setting label="At">
        <Select
          size="small"
          mode="multiple"
          aria-label="Operating points"
          placeholder={now?.at == null ? "the start" : `${now.at} s`}
          value={[...(now?.points ?? [])]}
          options={Object.entries(points).map(([value, p]) => ({ value, label: p.name }))}
          onChange={(v: string[]) => put({ points: v })}
          popupMatchSelectWidth={false}
        />
      </Setting>
      <Setting label="Shows">
        <Select
          size="small"
          aria-label="What is shown"
          value={now?.shows ?? "gain"}
          options={forms}
          onChange={(shows: string) => put({ shows })}
        />
      </Setting>
      <Setting label="Frequency in">
        <Segmented
          size="small"
          aria-label="Frequency in"
          value={now?.hertz ? "Hz" : "rad/s"}
          options={["rad/s", "Hz"]}
          onChange={(v) => put({ hertz: v === "Hz" })}
        />
      </Setting>
    </section>
  );
}
