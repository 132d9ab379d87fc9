import classNames from "classnames/bind";
import { Button, Dropdown, Input, Select } from "antd";
import { useEffect, useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type Schemas } from "../../api/client";
import { author, setAuthor } from "../../state/author";
import { notifyError, useBench } from "../../state/bench";
import { queueIdle, restore } from "../../state/model";
import { goToModel } from "../../ui/routes";
import { TextField } from "../../ui/TextField";
import { grouped, type Group } from "./historyGroups";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

const kinds = [
  { value: "", label: "All edits" },
  { value: "Structure", label: "Structure" },
  { value: "Values", label: "Values" },
  { value: "Layout", label: "Drawing" },
  { value: "Settings", label: "Settings" },
  { value: "Verification", label: "Requirements" },
];

/** The log of the model by day and author, with its checkpoints: what was done, what it was, and what differs. */
export function HistoryPane() {
  const { id, revision, saving } = useBench(useShallow((s) => ({ id: s.id, revision: s.revision, saving: s.saving })));
  const [history, setHistory] = useState<Schemas["HistoryView"] | null>(null);
  const [kind, setKind] = useState("");
  const [name, setName] = useState("");
  const [note, setNote] = useState("");
  const [turn, setTurn] = useState(0);
  useEffect(() => {
    if (saving > 0) return;
    let wanted = true;
    ask(api.GET("/api/models/{id}/history", { params: { path: { id }, query: { limit: 300 } } })).then(
      (found) => wanted && setHistory(found),
      (e: Error) => wanted && notifyError(e.message),
    );
    return () => {
      wanted = false;
    };
  }, [id, revision, saving, turn]);
  const groups = useMemo(() => grouped(history?.entries ?? [], kind), [history, kind]);
  const more = async () => {
    const last = history?.entries[history.entries.length - 1]?.revision;
    if (!history || last === undefined) return;
    const found = await ask(api.GET("/api/models/{id}/history", { params: { path: { id }, query: { before: last, limit: 300 } } }));
    setHistory({ ...history, entries: [...history.entries, ...found.entries] });
  };
  const keep = async (at: number, called: string, text: string) => {
    await queueIdle();
    try {
      const body = { revision: at, name: called, note: text, author: author() };
      await ask(api.POST("/api/models/{id}/checkpoints", { params: { path: { id } }, body }));
      setTurn((t) => t + 1);
    } catch (e) {
      notifyError((e as Error).message);
    }
  };
  const drop = async (at: number) => {
    await api.DELETE("/api/models/{id}/checkpoints/{revision}", { params: { path: { id, revision: at } } });
    setTurn((t) => t + 1);
  };
  if (!history) return <p className="quiet">Reading the history …</p>;
  const named = new Map(history.checkpoints.map((c) => [c.revision, c]));
  const oldest = history.entries[history.entries.length - 1]?.revision ?? 0;
  return (
    <section className={cx("history")} aria-label="History of the model">
      <form
        className={cx("history-new")}
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim() === "") return;
          void keep(revision, name.trim(), note.trim());
          setName("");
          setNote("");
        }}
      >
        <Input
          size="small"
          placeholder="name this state"
          aria-label="Name of a checkpoint"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Button size="small" htmlType="submit" disabled={name.trim() === ""}>
          Keep
        </Button>
        {name.trim() !== "" && (
          <Input
            size="small"
            className={cx("history-note")}
            placeholder="note, if you like"
            aria-label="Note of the checkpoint"
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
        )}
      </form>
      {history.checkpoints.length > 0 && (
        <ul className={cx("checkpoints")} aria-label="Checkpoints">
          {history.checkpoints.map((c) => (
            <li key={c.revision}>
              <span className={cx("flagged")} title={c.note}>
                {c.name}
                {c.note && <small className="quiet"> {c.note}</small>}
              </span>
              <StateMenu revision={c.revision} label={c.name} onDrop={() => void drop(c.revision)} />
            </li>
          ))}
        </ul>
      )}
      <div className={cx("history-head")}>
        <Select size="small" aria-label="Kind of edits" value={kind} options={kinds} onChange={setKind} popupMatchSelectWidth={false} />
        <Signature />
      </div>
      <ol className={cx("history-days")}>
        {groups.map((g) => (
          <Day key={g.key} group={g} named={named} />
        ))}
        {groups.length === 0 && (
          <li className="quiet">{kind === "" ? "No edits yet: this is the model as it was made." : "No edits of this kind."}</li>
        )}
      </ol>
      {oldest > 1 && (
        <Button size="small" type="link" onClick={() => void more()}>
          Earlier edits
        </Button>
      )}
      <div className={cx("history-entry")}>
        <span className="quiet">r0</span>
        <span>as it was made</span>
        <StateMenu revision={0} label="r0" />
      </div>
    </section>
  );
}

function Day({ group, named }: { group: Group; named: ReadonlyMap<number, Schemas["Checkpoint"]> }) {
  return (
    <li>
      <h2>
        {group.day} {group.author && <span className="quiet">{group.author}</span>}
      </h2>
      <ol>
        {group.entries.map((e) => (
          <li key={e.revision} className={cx("history-entry", { back: e.kind !== "edit" })}>
            <span className="quiet" title={e.time}>
              r{e.revision}
            </span>
            <span>
              {e.text}
              {e.count > 1 && <small className="quiet"> ×{e.count}</small>}
              {named.has(e.revision) && <small className={cx("flagged")}> {named.get(e.revision)?.name}</small>}
            </span>
            <StateMenu revision={e.revision} label={`r${e.revision}`} />
          </li>
        ))}
      </ol>
    </li>
  );
}

/** What can be done with a state of the model. */
function StateMenu({ revision, label, onDrop }: { revision: number; label: string; onDrop?: () => void }) {
  const id = useBench((s) => s.id);
  const copy = async () => {
    try {
      const made = await ask(api.POST("/api/models/{id}/copies", { params: { path: { id } }, body: { revision, name: null } }));
      goToModel(made.id);
    } catch (e) {
      notifyError((e as Error).message);
    }
  };
  const items = [
    { key: "compare", label: "What differs from now" },
    { key: "restore", label: "Go back to it" },
    { key: "copy", label: "Copy it as a new model" },
    ...(onDrop ? [{ key: "drop", label: "Forget the name" }] : []),
  ];
  const act = (key: string) => {
    if (key === "compare")
      useBench.setState({
        comparing: { left: { label: "now", model: id }, right: { label, model: id, revision } },
        openSheet: null,
        openPart: null,
      });
    else if (key === "restore") void restore(revision);
    else if (key === "copy") void copy();
    else onDrop?.();
  };
  return (
    <Dropdown trigger={["click"]} menu={{ items, onClick: ({ key }) => act(key) }}>
      <Button type="text" size="small" aria-label={`What can be done with ${label}`}>
        …
      </Button>
    </Dropdown>
  );
}

/** Who the edits of this browser are by. */
function Signature() {
  const [name, setName] = useState(author());
  return (
    <TextField
      label="Your name, as the history says it"
      value={name}
      placeholder="your name"
      prose
      commit={(text) => {
        setAuthor(text);
        setName(text);
      }}
      onEmpty={() => {
        setAuthor("");
        setName("");
      }}
    />
  );
}
