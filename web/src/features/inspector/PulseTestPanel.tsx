import classNames from "classnames/bind";
import { Button, Upload } from "antd";
import { useState } from "react";
import { api, ask, type CatalogPart, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { edit, here } from "../../state/model";
import { format } from "../../ui/format";
import { Message } from "../../ui/Message";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** Fits the tables of a cell to a measured pulse test. */
export function PulseTestPanel({ id, part }: { id: string; part: CatalogPart }) {
  const [open, setOpen] = useState(false);
  return (
    <section aria-label="Pulse test">
      <Button size="small" aria-expanded={open} onClick={() => setOpen(!open)}>
        From a pulse test
      </Button>
      {open && <Fit id={id} part={part} onTaken={() => setOpen(false)} />}
    </section>
  );
}

function Fit({ id, part, onTaken }: { id: string; part: CatalogPart; onTaken: () => void }) {
  const own = useBench((s) => s.diagram.parts[id]?.parameters);
  const value = (name: string) => own?.[name] ?? part.parameters.find((p) => p.name === name)?.default ?? "";
  const [start, setStart] = useState("1");
  const [temperature, setTemperature] = useState("25 degC");
  const [branches, setBranches] = useState(value("branches") || "2");
  const [answer, setAnswer] = useState<Schemas["PulseTestAnswer"] | null>(null);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const fit = async (chosen: File) => {
    setBusy(true);
    setProblem("");
    setAnswer(null);
    try {
      const body = { text: await chosen.text(), capacity: value("Q"), start: Number(start), branches: Number(branches), temperature };
      setAnswer(await ask(api.POST("/api/pulse-tests", { body })));
    } catch (e) {
      setProblem([(e as Error).message, (e as { advice?: string }).advice].filter(Boolean).join(" "));
    } finally {
      setBusy(false);
    }
  };
  const take = () => {
    const operations = Object.entries(answer?.parameters ?? {}).map(([name, text]) => ({
      op: "add" as const,
      path: here("parts", id, "parameters", name),
      value: text,
    }));
    edit("Take tables from a pulse test", operations);
    onTaken();
  };
  const row = (name: string, label: string, text: string, set: (text: string) => void) => (
    <div className={cx("row", "wide")}>
      <label htmlFor={`${id}-pulse-${name}`}>{label}</label>
      <TextField id={`${id}-pulse-${name}`} label={label} value={text} commit={set} />
    </div>
  );
  return (
    <>
      <p className={cx("sub", "sheet-group")}>
        A table of time, current [A] and voltage [V]: pulses, each with a rest after it. The capacity is that of the cell, {value("Q")}
        {/^[\d.e+-]+$/.test(value("Q")) ? " C" : ""}.
      </p>
      {row("start", "Charge at its beginning, 0 to 1", start, setStart)}
      {row("temperature", "Temperature of the test", temperature, setTemperature)}
      {row("branches", "Branches", branches, setBranches)}
      <div className={cx("buttons")}>
        <Upload
          accept=".csv,.tsv,.txt"
          showUploadList={false}
          beforeUpload={(chosen) => {
            void fit(chosen);
            return false;
          }}
        >
          <Button size="small" loading={busy}>
            Choose the file
          </Button>
        </Upload>
      </div>
      {problem && <Message bad>{problem}</Message>}
      {answer && (
        <>
          <table className={cx("pulse-table")} aria-label="What the pulse test says">
            <thead>
              <tr>
                <th>charge</th>
                <th>at rest V</th>
                <th>R0 mΩ</th>
                {answer.timeConstants.map((t, j) => (
                  <th key={j}>{format(t, 3)} s mΩ</th>
                ))}
              </tr>
            </thead>
            <tbody>
              {answer.points.map((p) => (
                <tr key={p.charge}>
                  <td>{format(p.charge, 3)}</td>
                  <td>{format(p.rest, 5)}</td>
                  <td>{format(1000 * p.series, 3)}</td>
                  {p.branches.map((r, j) => (
                    <td key={j}>{format(1000 * r, 3)}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          <p className={cx("sub")}>The rests are followed within {format(1000 * answer.worst, 2)} mV.</p>
          {answer.doubts.map((doubt) => (
            <Message key={doubt} bad>
              {doubt}
            </Message>
          ))}
          <Button size="small" type="primary" onClick={take}>
            Take these tables
          </Button>
        </>
      )}
    </>
  );
}
