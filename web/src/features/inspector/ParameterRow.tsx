import classNames from "classnames/bind";
import { TableOutlined, VerticalAlignTopOutlined } from "@ant-design/icons";
import { Button, Select } from "antd";
import { memo, useRef, useState } from "react";
import { api, ask, type CatalogPart, type Schemas } from "../../api/client";
import { format } from "../../ui/format";
import { MathText } from "../../ui/Math";
import { setParameter } from "../../state/edits";
import { useBench } from "../../state/bench";
import { referenceOf } from "../../state/document";
import { restructure } from "../../state/model";
import { moveToSheet } from "../../state/sheets";
import { Message } from "../../ui/Message";
import { TextField } from "../../ui/TextField";
import { typedOver, unitOf } from "../../ui/typedUnit";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

type Parameter = CatalogPart["parameters"][number];

interface Props {
  partId: string;
  parameter: Parameter;
  text: string | undefined;
  view: Schemas["ParameterView"] | undefined;
  problem: string | null;
  /** Names to choose from, for a list of names. */
  known: readonly string[] | null;
}

/** A name as a symbol: k, T₁, p_Set; a word stays a word. */
const subscripted = (name: string) => {
  if (name.length === 1) return name;
  const indexed = name.length === 2 || (name.length <= 5 && /^[A-Za-z][A-Z0-9]/.test(name));
  return indexed ? `${name[0]}_{\\mathrm{${name.slice(1)}}}` : `\\mathit{${name}}`;
};

/** One parameter: symbol, prompt, value as typed, unit. Typing is checked; Enter runs the model again. */
export const ParameterRow = memo(function ParameterRow({ partId, parameter, text, view, problem, known }: Props) {
  const modelId = useBench((s) => s.id);
  const level = useBench((s) => s.level);
  const [checked, setChecked] = useState<{ ok: boolean; message: string } | null>(null);
  const [draft, setDraft] = useState<string | null>(null);
  const turn = useRef(0);
  const value = text ?? parameter.default;
  const id = `${partId}-${parameter.name}`;

  const check = async (draft: string) => {
    const mine = ++turn.current;
    setDraft(draft);
    const typed = typedOver(value, draft);
    if (typed.trim() === "" || typed.trim() === value) {
      setChecked(null);
      return;
    }
    try {
      const answer = await ask(
        api.POST("/api/models/{id}/field", {
          params: { path: { id: modelId } },
          body: { part: referenceOf(useBench.getState().level, partId), ofLevel: false, parameter: parameter.name, text: typed },
        }),
      );
      if (mine !== turn.current) return;
      const number = answer.value === null || answer.value === undefined ? "" : `= ${format(answer.value, 6)} ${answer.unit ?? ""}`;
      setChecked({ ok: answer.isValid, message: answer.isValid ? number : (answer.message ?? "") });
    } catch {
      setChecked(null);
    }
  };

  const message = checked ? checked.message : problem;
  const bad = checked ? !checked.ok : problem !== null;
  const number = view?.value;
  // A number, perhaps with a unit, says itself what it is; an expression does not.
  const plain = /^[-+]?[\d.]+(e[-+]?\d+)?(\s+\S+)?$/i.test(value.trim());
  const withUnit = /[a-zµ°%]/i.test(value.replace(/^[-\d.e+]+/i, ""));
  // A bare number typed over one with a unit means that unit.
  const kept = draft !== null && typedOver(value, draft) !== draft ? unitOf(value) : null;
  return (
    <div className={cx("row", { bad, wide: parameter.type === "Text" })}>
      <label htmlFor={id} title={parameter.description ?? ""}>
        {!parameter.choices && parameter.type !== "Names" && parameter.type !== "Text" && <MathText tex={subscripted(parameter.name)} />}{" "}
        {parameter.description}
      </label>
      {parameter.type === "Names" ? (
        <Select
          id={id}
          size="small"
          mode="tags"
          tokenSeparators={[",", " "]}
          aria-label={parameter.description ?? parameter.name}
          value={value
            .split(",")
            .map((s) => s.trim())
            .filter(Boolean)}
          options={(known ?? []).map((name) => ({ value: name, label: name }))}
          notFoundContent="Type a name and press Enter"
          onChange={(names: string[]) => setParameter(partId, parameter.name, names.join(", "))}
        />
      ) : parameter.type === "Text" && !parameter.choices ? (
        <TextField
          id={id}
          label={parameter.description ?? parameter.name}
          value={value}
          prose
          commit={(t) => setParameter(partId, parameter.name, t)}
          onEmpty={() => setParameter(partId, parameter.name, null)}
        />
      ) : parameter.choices ? (
        <Select
          id={id}
          size="small"
          aria-label={parameter.description ?? parameter.name}
          value={value}
          options={parameter.choices.map((c) => ({
            value: c.value,
            label: c.description && c.description.length < 26 ? c.description : c.name,
          }))}
          onChange={(v: string) => setParameter(partId, parameter.name, v)}
          popupMatchSelectWidth={false}
        />
      ) : (
        <TextField
          id={id}
          label={parameter.description ?? parameter.name}
          value={value}
          quiet={text === undefined}
          invalid={bad}
          check={(t) => void check(t)}
          commit={(t) => {
            turn.current++;
            setChecked(null);
            setDraft(null);
            setParameter(partId, parameter.name, typedOver(value, t));
          }}
          onEmpty={() => {
            turn.current++;
            setChecked(null);
            setDraft(null);
            setParameter(partId, parameter.name, null);
          }}
        />
      )}
      {parameter.type === "Real" && !parameter.isArray && !parameter.choices && plain && (
        <Button
          type="text"
          size="small"
          className={cx("lift", "to-sheet")}
          icon={<TableOutlined />}
          title="Move it to a sheet"
          aria-label={`Move ${parameter.description ?? parameter.name} to a sheet`}
          onClick={() => void moveToSheet({ parts: [partId], parameter: parameter.name })}
        />
      )}
      {level !== "" && parameter.type === "Real" && !parameter.isArray && !parameter.choices && (
        <Button
          type="text"
          size="small"
          className={cx("lift")}
          icon={<VerticalAlignTopOutlined />}
          title="Put it on the face of this subsystem"
          aria-label={`Put ${parameter.description ?? parameter.name} on the face`}
          onClick={() => void restructure({ kind: "liftParameter", part: partId, parameter: parameter.name, name: null })}
        />
      )}
      <small>{parameter.choices ? "" : (kept ?? (withUnit ? "" : (parameter.unitText ?? view?.unit ?? "")))}</small>
      {message && (
        <Message bad={bad} floating={checked !== null} live>
          {message}
        </Message>
      )}
      {!message && plain && !withUnit && view?.display && <Message>= {view.display}</Message>}
      {!message &&
        !plain &&
        !parameter.choices &&
        number !== null &&
        number !== undefined &&
        parameter.type !== "Formula" &&
        !parameter.isArray && (
          <Message>
            = {format(number, 5)} {parameter.unitText ?? view?.unit ?? ""}
          </Message>
        )}
    </div>
  );
});
