import classNames from "classnames/bind";
import { Button, Dropdown, Input, Popconfirm, Select } from "antd";
import { useEffect, useRef, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { notifyError, useBench } from "../../state/bench";
import { goToPart } from "../../state/model";
import { activate, addColumn, openSheet, removeSheet, renameSheet } from "../../state/sheets";
import { base64 } from "../../ui/base64";
import { TextField } from "../../ui/TextField";
import { SheetGrid } from "./SheetGrid";
import { SheetComparison } from "./SheetComparison";
import styles from "./sheets.module.css";

const cx = classNames.bind(styles);

/** A sheet over the diagram: its rows as a grid, its columns, what goes out to spreadsheets and comes back. */
export default function SheetEditor({ id }: { id: string }) {
  const sheet = useBench((s) => s.model.sheets?.[id]);
  const model = useBench((s) => s.id);
  const revision = useBench((s) => s.revision);
  const [search, setSearch] = useState("");
  const [comparison, setComparison] = useState<Schemas["SheetImportView"] | null>(null);
  const [uses, setUses] = useState<Record<string, Schemas["SheetUse"][]>>({});
  const [shown, setShown] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  useEffect(() => {
    let wanted = true;
    ask(api.GET("/api/models/{id}/sheets/{sheet}/uses", { params: { path: { id: model, sheet: id } } })).then(
      (found) => wanted && setUses(found as Record<string, Schemas["SheetUse"][]>),
      // A sheet that was just made is not stored yet; its uses come with the next revision.
      () => undefined,
    );
    return () => {
      wanted = false;
    };
  }, [model, id, revision]);
  if (!sheet)
    return (
      <section className={cx("editor")} aria-label="Sheet">
        <p className="quiet">This sheet is not there any more.</p>
        <Button onClick={() => openSheet(null)}>Close</Button>
      </section>
    );
  const columns = Object.values(sheet.columns);
  const active = columns.find((c) => JSON.stringify(c.name) === sheet.active)?.name;
  const compare = async (body: Schemas["TableRequest"]) => {
    try {
      const { data, error } = await api.POST("/api/models/{id}/sheets/{sheet}/comparison", {
        params: { path: { id: model, sheet: id } },
        body,
      });
      if (data) setComparison(data);
      else notifyError((error as { detail?: string })?.detail ?? "The table could not be compared.");
    } catch {
      notifyError("The server does not answer.");
    }
  };
  const take = async (chosen: File | undefined) => {
    if (!chosen) return;
    await compare({ file: await base64(chosen), text: null });
  };
  const download = (form: string) => {
    const link = window.document.createElement("a");
    link.href = `/api/models/${model}/sheets/${id}/file?form=${form}`;
    link.download = `${sheet.name}.${form}`;
    link.click();
  };
  return (
    <section className={cx("editor")} aria-label={`Sheet ${sheet.name}`} data-ui>
      <header>
        <div className={cx("title")}>
          <TextField label="Name of the sheet" value={sheet.name} title commit={(name) => renameSheet(id, name)} />
        </div>
        <label className={cx("active")}>
          Active column
          <Select
            size="small"
            aria-label="Active column"
            value={active}
            placeholder="by expression"
            options={columns.map((c) => ({ value: c.name, label: c.name }))}
            onChange={(name: string) => activate(id, name)}
            popupMatchSelectWidth={false}
          />
        </label>
        <span className="quiet mono" title="Any level can speak of it; runs can choose it">
          {sheet.chooser}
        </span>
        <span className={cx("room")} />
        <Input
          size="small"
          className={cx("search")}
          placeholder="Search the rows"
          aria-label="Search the rows"
          value={search}
          allowClear
          onChange={(e) => setSearch(e.target.value)}
        />
        <Button size="small" onClick={() => openSheet(null)}>
          Close
        </Button>
      </header>
      {comparison ? (
        <SheetComparison name={sheet.name} comparison={comparison} onDone={() => setComparison(null)} />
      ) : (
        <>
          <div className={cx("tools")}>
            <NewColumn onAdd={(name) => addColumn(id, name)} />
            <Button size="small" onClick={() => file.current?.click()}>
              Compare with a file
            </Button>
            <input
              ref={file}
              type="file"
              className="unseen"
              aria-label="File of a spreadsheet"
              tabIndex={-1}
              accept=".xlsx,.csv,.txt,.tsv"
              onChange={(e) => {
                void take(e.target.files?.[0]);
                e.target.value = "";
              }}
            />
            <PasteTable onText={(text) => void compare({ file: null, text })} />
            <Dropdown
              trigger={["click"]}
              menu={{
                items: [
                  { key: "xlsx", label: "Workbook (xlsx)" },
                  { key: "csv", label: "Text with commas (csv)" },
                ],
                onClick: ({ key }) => download(key),
              }}
            >
              <Button size="small">Write a file</Button>
            </Dropdown>
            <span className={cx("room")} />
            <Popconfirm
              title={`Remove ${sheet.name}?`}
              description="Fields that speak of its rows will not know them."
              okText="Remove"
              cancelText="Keep"
              onConfirm={() => removeSheet(id)}
            >
              <Button size="small">Remove the sheet</Button>
            </Popconfirm>
          </div>
          <SheetGrid id={id} sheet={sheet} search={search} uses={uses} onRow={setShown} />
          <footer className={cx("uses")} aria-label="Where the row is used" aria-live="polite">
            {shown === null ? (
              <span className="quiet">Select a row to see where it is used.</span>
            ) : (uses[shown] ?? []).length === 0 ? (
              <span className="quiet">Nothing uses {shown}.</span>
            ) : (
              <>
                <span className="quiet">{shown} is used by</span>
                {(uses[shown] ?? []).slice(0, 12).map((u) =>
                  u.part ? (
                    <Button
                      key={u.text}
                      type="link"
                      size="small"
                      onClick={() => {
                        openSheet(null);
                        void goToPart(u.part as string);
                      }}
                    >
                      {u.text}
                    </Button>
                  ) : (
                    <span key={u.text}>{u.text}</span>
                  ),
                )}
                {(uses[shown] ?? []).length > 12 && <span className="quiet">and {(uses[shown] ?? []).length - 12} more</span>}
              </>
            )}
          </footer>
        </>
      )}
    </section>
  );
}

function NewColumn({ onAdd }: { onAdd: (name: string) => void }) {
  const [name, setName] = useState("");
  return (
    <form
      className={cx("new-column")}
      onSubmit={(e) => {
        e.preventDefault();
        if (name.trim() === "") return;
        onAdd(name.trim());
        setName("");
      }}
    >
      <Input
        size="small"
        placeholder="new column"
        aria-label="Name of a new column"
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <Button size="small" htmlType="submit" disabled={name.trim() === ""}>
        Add
      </Button>
    </form>
  );
}

/** A place to paste a whole table with its header, which is compared before anything changes. */
function PasteTable({ onText }: { onText: (text: string) => void }) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Button size="small" onClick={() => setOpen(true)}>
        Compare with pasted cells
      </Button>
    );
  return (
    <Input.TextArea
      autoFocus
      className={cx("paste")}
      aria-label="Cells copied from a spreadsheet, with their header"
      placeholder="Paste here, header first"
      rows={1}
      onPaste={(e) => {
        e.preventDefault();
        setOpen(false);
        onText(e.clipboardData.getData("text"));
      }}
      onBlur={() => setOpen(false)}
      onKeyDown={(e) => e.key === "Escape" && setOpen(false)}
    />
  );
}
