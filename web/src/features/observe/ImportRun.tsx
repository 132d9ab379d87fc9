import classNames from "classnames/bind";
import { Button, Modal, Select } from "antd";
import { useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { takeRun, toggleRun } from "../../state/observe";
import { findSignals } from "../../state/signals";
import { format } from "../../ui/format";
import { TextField } from "../../ui/TextField";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

type Column = Schemas["ColumnMapping"];

/** Takes measured data, or a run of another program, in as a run: its columns become signals of the model. */
export function ImportRun({ onClose }: { onClose: () => void }) {
  const id = useBench((s) => s.id);
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  const [preview, setPreview] = useState<Schemas["ImportPreview"] | null>(null);
  const [columns, setColumns] = useState<Column[]>([]);
  const [problem, setProblem] = useState("");
  const [options, setOptions] = useState<{ value: string; label: string }[]>([]);
  const path = { params: { path: { id } } };
  const search = (text: string) =>
    void findSignals({ search: text, limit: 40 }).then((f) =>
      setOptions(f.signals.map((s) => ({ value: s.reference, label: `${s.label}${s.part ? ` · ${s.part}` : ""}` }))),
    );
  const read = async (chosen: File) => {
    const text = await chosen.text();
    setProblem("");
    try {
      const found = await ask(api.POST("/api/models/{id}/imports/preview", { ...path, body: { name: chosen.name, text, columns: null } }));
      setFile({ name: chosen.name, text });
      setPreview(found);
      setColumns(found.columns);
      search("");
    } catch (e) {
      setProblem((e as Error).message);
    }
  };
  const take = async () => {
    if (!file) return;
    try {
      const run = await ask(api.POST("/api/models/{id}/imports", { ...path, body: { ...file, columns } }));
      takeRun(run);
      toggleRun(run.id);
      onClose();
    } catch (e) {
      setProblem((e as Error).message);
    }
  };
  const put = (i: number, values: Partial<Column>) => setColumns(columns.map((c, k) => (k === i ? { ...c, ...values } : c)));
  return (
    <Modal
      open
      title="Bring in a file"
      onCancel={onClose}
      onOk={() => void take()}
      okText="Take it in"
      okButtonProps={{ disabled: !columns.some((c) => c.signal) }}
      width={620}
    >
      <p className="quiet">A table as text (CSV): the first line names the columns, one of them the time.</p>
      <input
        type="file"
        aria-label="File"
        accept=".csv,.txt,.tsv,text/*"
        onChange={(e) => e.target.files?.[0] && void read(e.target.files[0])}
      />
      {problem && (
        <p className={cx("problem")} role="alert">
          {problem}
        </p>
      )}
      {preview && (
        <>
          <p className="quiet">
            {preview.rows} rows from {format(Number(preview.from))} to {format(Number(preview.to))} s.
          </p>
          <table className={cx("mapping")}>
            <thead>
              <tr>
                <th>column</th>
                <th>is the signal</th>
                <th>in</th>
              </tr>
            </thead>
            <tbody>
              {columns.map((c, i) => (
                <tr key={c.title}>
                  <th>{c.title}</th>
                  <td>
                    <Select
                      size="small"
                      showSearch
                      allowClear
                      filterOption={false}
                      aria-label={`Signal of ${c.title}`}
                      placeholder="left out"
                      value={c.signal ?? null}
                      onSearch={search}
                      onChange={(signal: string | undefined) => put(i, { signal: signal ?? null, problem: null })}
                      options={
                        c.signal && !options.some((o) => o.value === c.signal)
                          ? [{ value: c.signal, label: c.signal }, ...options]
                          : options
                      }
                    />
                    {c.problem && <div className={cx("problem")}>{c.problem}</div>}
                  </td>
                  <td>
                    <TextField
                      label={`Unit of ${c.title}`}
                      value={c.unit}
                      placeholder="its unit"
                      commit={(unit) => put(i, { unit, problem: null })}
                      onEmpty={() => put(i, { unit: "", problem: null })}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      {!preview && !problem && <Button disabled>Choose a file first</Button>}
    </Modal>
  );
}
