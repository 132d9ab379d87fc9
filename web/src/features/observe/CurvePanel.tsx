import { Button, Segmented, Select, Switch } from "antd";
import classNames from "classnames/bind";
import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { PALETTE } from "../../plots/colors";
import { useBench } from "../../state/bench";
import {
  removeCurve,
  setAxis,
  setCurve,
  setTile,
  shownSheet,
  stripOf,
  TIME_UNITS,
  type Axis,
  type Curve,
  type Tile,
} from "../../state/plotSheets";
import { infoOf, findSignals } from "../../state/signals";
import { TextField } from "../../ui/TextField";
import { NumberSetting, Setting } from "./Setting";
import { SignalSelect } from "../../ui/SignalSelect";
import { ResponsePanel } from "./ResponsePanel";
import { StretchFigures } from "./StretchFigures";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** What can be said of the selected plot, its curve and its axes. */
export function CurvePanel() {
  const { model, sheet, tile: at, infos } = useBench(useShallow((s) => ({ model: s.model, sheet: s.sheet, tile: s.tile, infos: s.infos })));
  const [, node] = useMemo(() => shownSheet({ model, sheet }), [model, sheet]);
  const tile = at ? node.tiles[at.id] : undefined;
  if (!at || !tile) return <p className="quiet">Select a plot or a curve on the sheet.</p>;
  if (tile.kind === "response") return <ResponsePanel id={at.id} tile={tile} />;
  const curve = at.curve ? tile.curves[at.curve] : undefined;
  return (
    <section aria-label="Curve and axes" className={cx("curve-panel")}>
      <Setting label="Title">
        <TextField
          label="Title of the plot"
          prose
          value={tile.title ?? ""}
          placeholder="after its curves"
          commit={(title) => setTile(at.id, "Name a plot", { title })}
          onEmpty={() => setTile(at.id, "Name a plot", { title: undefined })}
        />
      </Setting>
      <Setting label="Curve">
        <Select
          size="small"
          aria-label="Curve"
          value={at.curve}
          placeholder="none selected"
          onChange={(id: string) => useBench.setState({ tile: { id: at.id, curve: id } })}
          options={Object.entries(tile.curves).map(([id, c]) => ({
            value: id,
            label: (c.difference ? "Δ " : "") + (infoOf(infos, c.signal)?.view.label ?? c.signal),
          }))}
        />
      </Setting>
      {at.curve && curve && <CurveRows tile={at.id} id={at.curve} node={curve} isStrips={tile.kind === "strips"} />}
      {at.curve && <StretchFigures tile={tile} curve={at.curve} />}
      <Axes id={at.id} tile={tile} curve={curve} />
      {tile.kind === "spectrum" && <SpectrumRows id={at.id} tile={tile} />}
      {Object.entries(tile.pins).map(([pin, p]) => (
        <Setting key={pin} label="Note">
          <TextField
            label="Text of the note"
            prose
            value={p.text}
            commit={(text) => setTile(at.id, "Change a note", { pins: { ...tile.pins, [pin]: { ...p, text } } })}
            onEmpty={() =>
              setTile(at.id, "Remove a note", { pins: Object.fromEntries(Object.entries(tile.pins).filter(([k]) => k !== pin)) })
            }
          />
        </Setting>
      ))}
    </section>
  );
}

function CurveRows({ tile, id, node, isStrips }: { tile: string; id: string; node: Curve; isStrips: boolean }) {
  const put = (values: Partial<Curve>) => setCurve(tile, id, values);
  return (
    <>
      <Setting label="Colour">
        <div className={cx("palette")} role="radiogroup" aria-label="Colour">
          {PALETTE.map((c, i) => (
            <Button
              key={c}
              size="small"
              type="text"
              role="radio"
              aria-checked={node.color === i}
              aria-label={`Colour ${i + 1}`}
              className={cx({ on: node.color === i })}
              onClick={() => put({ color: i })}
            >
              <i style={{ background: c }} />
            </Button>
          ))}
        </div>
      </Setting>
      <Setting label="Line">
        <Segmented
          size="small"
          aria-label="Line"
          value={node.dash ?? "solid"}
          options={["solid", "dashed", "dotted"]}
          onChange={(dash) => put({ dash })}
        />
      </Setting>
      <NumberSetting label="Width" min={0.5} max={6} step={0.5} value={Number(node.width ?? 1.6)} onChange={(width) => put({ width })} />
      <NumberSetting label="Factor" value={Number(node.factor)} onChange={(factor) => put({ factor })} />
      <NumberSetting label="Offset" value={Number(node.offset)} onChange={(offset) => put({ offset })} />
      <Setting label="Joined by">
        <Segmented
          size="small"
          aria-label="Joined by"
          value={node.steps ? "steps" : "lines"}
          options={["lines", "steps"]}
          onChange={(v) => put({ steps: v === "steps" })}
        />
      </Setting>
      {isStrips && (
        <>
          <NumberSetting label="Strip" min={1} max={20} value={node.strip + 1} onChange={(v) => put({ strip: v - 1 })} />
          <Setting label="Axis">
            <Segmented
              size="small"
              aria-label="Axis"
              value={node.onRight ? "right" : "left"}
              options={["left", "right"]}
              onChange={(v) => put({ onRight: v === "right" })}
            />
          </Setting>
        </>
      )}
      <Setting label="Difference">
        <Switch
          size="small"
          aria-label="Difference to the run compared with"
          checked={node.difference}
          onChange={(difference) => put({ difference })}
        />
      </Setting>
      <Button size="small" onClick={() => removeCurve(tile, id)}>
        Remove the curve
      </Button>
    </>
  );
}

function Axes({ id, tile, curve }: { id: string; tile: Tile; curve: Curve | undefined }) {
  const infos = useBench((s) => s.infos);
  const strip = curve?.strip ?? 0;
  const side = curve?.onRight ? "right" : "left";
  const axis = stripOf(tile, strip)[side];
  const first = curve ?? Object.values(tile.curves)[0];
  const units = first ? (infoOf(infos, first.signal)?.units ?? []) : [];
  const put = (values: Partial<Axis>) => setAxis(id, strip, side, values);
  const needsAcross = tile.kind === "against" || tile.kind === "orders";
  return (
    <>
      <h2>Axis{tile.kind === "strips" ? ` of strip ${strip + 1}, ${side}` : ""}</h2>
      {tile.kind === "strips" && (
        <Setting label="Time in">
          <Select
            size="small"
            aria-label="Unit of time"
            value={tile.across?.unit ?? "s"}
            onChange={(unit: string) => setTile(id, "Change an axis", { across: { ...tile.across, logarithmic: false, unit } })}
            options={Object.keys(TIME_UNITS).map((u) => ({ value: u, label: u }))}
          />
        </Setting>
      )}
      {needsAcross && (
        <Setting label={tile.kind === "orders" ? "Speed" : "Bottom"}>
          <SignalSelect
            find={findSignals}
            label={tile.kind === "orders" ? "The shaft’s speed" : "What stands along the bottom"}
            placeholder="choose a signal"
            value={tile.abscissa ? { signal: tile.abscissa, label: infoOf(infos, tile.abscissa)?.view.label ?? tile.abscissa } : null}
            onChange={(abscissa) => setTile(id, "Choose what stands along the bottom", { abscissa })}
          />
        </Setting>
      )}
      <Setting label="Unit">
        <Select
          size="small"
          aria-label="Unit of the axis"
          value={axis.unit ?? ""}
          onChange={(unit: string) => put({ unit: unit === "" ? undefined : unit })}
          options={[{ value: "", label: "that of the signal" }, ...units.map((u) => ({ value: u, label: u }))]}
        />
      </Setting>
      {(["from", "to"] as const).map((end) => (
        <NumberSetting
          key={end}
          label={end === "from" ? "From" : "To"}
          value={axis[end] === undefined ? null : Number(axis[end])}
          onChange={(v) => put({ [end]: v })}
          onEmpty={() => put({ [end]: undefined })}
        />
      ))}
      <Setting label="Logarithmic">
        <Switch size="small" aria-label="Logarithmic" checked={axis.logarithmic} onChange={(logarithmic) => put({ logarithmic })} />
      </Setting>
      <Setting label="Title">
        <TextField
          label="Title of the axis"
          prose
          value={axis.title ?? ""}
          placeholder="its unit"
          commit={(title) => put({ title })}
          onEmpty={() => put({ title: undefined })}
        />
      </Setting>
    </>
  );
}

const windows = ["rectangular", "hann", "hamming", "blackman", "flattop"];

function SpectrumRows({ id, tile }: { id: string; tile: Tile }) {
  const now = tile.spectrum ?? { window: "hann", averages: 1, form: "amplitude" };
  const put = (values: Partial<NonNullable<Tile["spectrum"]>>) => setTile(id, "Change a spectrum", { spectrum: { ...now, ...values } });
  return (
    <>
      <h2>Spectrum</h2>
      <Setting label="Window">
        <Select
          size="small"
          aria-label="Window"
          value={now.window}
          options={windows.map((w) => ({ value: w, label: w }))}
          onChange={(window) => put({ window })}
        />
      </Setting>
      <NumberSetting label="Averages" min={1} max={1000} value={Number(now.averages)} onChange={(averages) => put({ averages })} />
      <Setting label="Shown as">
        <Segmented
          size="small"
          aria-label="Shown as"
          value={now.form}
          options={["amplitude", "density"]}
          onChange={(form) => put({ form })}
        />
      </Setting>
    </>
  );
}
