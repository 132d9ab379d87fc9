import classNames from "classnames/bind";
import { SearchOutlined } from "@ant-design/icons";
import { Button, Input, Segmented, Upload, type InputRef } from "antd";
import { useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { tinykeys } from "tinykeys";
import { api, ask, type Schemas } from "../../api/client";
import { author } from "../../state/author";
import { download } from "../../api/download";
import { Message } from "../../ui/Message";
import { create, fromFile } from "./create";
import { ExampleCard } from "./ExampleCard";
import { ShelfRow, type RowAction } from "./ShelfRow";
import { PlaceForm } from "./PlaceForm";
import { chosen, type Entry, type Order } from "./shelf";
import { ShelfPane } from "./ShelfPane";
import { StartAside } from "./StartAside";
import styles from "./start.module.css";

const cx = classNames.bind(styles);

const orders: { value: Order; label: string }[] = [
  { value: "recent", label: "Recent" },
  { value: "name", label: "Name" },
  { value: "mine", label: "Mine" },
];

/** Examples that stand below the models: one of each task. */
const BRIEF = 6;

/** All models by folder, tag and domain, and the ways to begin one. */
export function StartPage({ lessons }: { lessons: ReactNode }) {
  const [shelf, setShelf] = useState<Schemas["ShelfView"] | null>(null);
  const [examples, setExamples] = useState<Schemas["ExampleSummary"][]>([]);
  const [problem, setProblem] = useState("");
  const [search, setSearch] = useState("");
  const [inTrash, setInTrash] = useState(false);
  const [folder, setFolder] = useState("");
  const [tag, setTag] = useState("");
  const [domain, setDomain] = useState("");
  const [order, setOrder] = useState<Order>("recent");
  const [placing, setPlacing] = useState<Entry | null>(null);
  const [said, setSaid] = useState("");
  const field = useRef<InputRef>(null);
  const list = useRef<HTMLUListElement>(null);
  const told = useCallback((e: Error) => setProblem(e.message), []);
  const load = useCallback(
    () => ask(api.GET("/api/shelf", { params: { query: { search, trash: inTrash } } })).then(setShelf, told),
    [search, inTrash, told],
  );
  useEffect(() => void load(), [load]);
  useEffect(() => {
    ask(api.GET("/api/examples")).then(setExamples, () => undefined);
  }, []);
  // What a card told of a model that was not known yet: its domains are to choose by.
  const learning = useRef<number>(undefined);
  const learn = useCallback(() => {
    window.clearTimeout(learning.current);
    learning.current = window.setTimeout(() => void load(), 800);
  }, [load]);
  useEffect(() => () => window.clearTimeout(learning.current), []);
  const begin = useCallback((from: Partial<Schemas["CreateRequest"]>) => void create(from, folder).catch(told), [told, folder]);
  useEffect(() => {
    const free = (what: (e: KeyboardEvent) => void) => (e: KeyboardEvent) => {
      if ((e.target as Element).closest("input, textarea, [role=dialog]")) return;
      e.preventDefault();
      what(e);
    };
    const step = (by: number) =>
      free(() => {
        const links = [...(list.current?.querySelectorAll<HTMLElement>("[data-way]") ?? [])];
        const at = links.indexOf(document.activeElement as HTMLElement);
        links[Math.max(0, Math.min(links.length - 1, at < 0 ? 0 : at + by))]?.focus();
      });
    return tinykeys(window, {
      "/": free(() => field.current?.focus()),
      n: free(() => begin({ name: "Untitled model" })),
      ArrowDown: step(1),
      ArrowUp: step(-1),
    });
  }, [begin]);
  const bring = (file: File) =>
    void fromFile(file)
      .then((from) => create(from, folder))
      .catch(told);

  const act = async (action: RowAction, model: Entry, name?: string) => {
    const params = { params: { path: { id: model.id } } };
    setProblem("");
    setSaid("");
    try {
      if (action === "rename") await ask(api.POST("/api/models/{id}/name", { ...params, body: { name: name ?? "", author: author() } }));
      if (action === "duplicate") await ask(api.POST("/api/models/{id}/copies", { ...params, body: { revision: null, name: null } }));
      if (action === "place") setPlacing(model);
      if (action === "export")
        download(await ask(api.GET("/api/models/{id}/export", { ...params, parseAs: "blob" })), `${model.name}.json`);
      if (action === "trash") {
        await ask(api.POST("/api/models/{id}/trash", params));
        setSaid(`${model.name} lies in the trash.`);
      }
      if (action === "restore") await ask(api.DELETE("/api/models/{id}/trash", params));
      if (action === "delete") await ask(api.DELETE("/api/models/{id}", params));
      await load();
    } catch (e) {
      told(e as Error);
    }
  };
  const changed = (what: Promise<unknown>) => void what.then(load).catch(told);
  const shown = useMemo(
    () => (shelf ? chosen(shelf.models, { folder, tag, domain, order, author: author() }) : []),
    [shelf, folder, tag, domain, order],
  );
  const running = shown.flatMap((m) => m.studies).filter((s) => s.state === "running").length;
  const heading = inTrash ? "Trash" : folder ? folder.slice(folder.lastIndexOf("/") + 1) : "All models";
  const first = [...new Map([...examples].reverse().map((e) => [e.task, e])).values()].reverse();
  const brief = [...first, ...examples.filter((e) => !first.includes(e))].slice(0, BRIEF);

  return (
    <div className={cx("page")}>
      <header className={cx("head")}>
        <b>Anchor Bend</b>
        <Input
          ref={field}
          allowClear
          prefix={<SearchOutlined />}
          suffix={<kbd>/</kbd>}
          aria-label="Find models and examples"
          placeholder="By name, description, parts used, folder or tag"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
        />
        <Upload accept=".json,.mo" showUploadList={false} beforeUpload={(file) => (bring(file), false)}>
          <Button>Import a file</Button>
        </Upload>
        <Button type="primary" onClick={() => begin({ name: "Untitled model" })}>
          New model
        </Button>
      </header>
      {shelf && (
        <ShelfPane
          shelf={shelf}
          folder={folder}
          tag={tag}
          domain={domain}
          inTrash={inTrash}
          onFolder={(f) => {
            setInTrash(false);
            setFolder(f);
          }}
          onTag={setTag}
          onDomain={setDomain}
          onTrash={() => {
            setInTrash(true);
            setFolder("");
          }}
          onEmpty={() => changed(ask(api.DELETE("/api/trash")))}
          onMake={(path) => changed(ask(api.POST("/api/folders", { body: { path } })))}
          onMove={(from, to) => {
            if (folder === from) setFolder(to);
            changed(ask(api.POST("/api/folders/move", { body: { from, to } })));
          }}
          onRemove={(path) => {
            setFolder("");
            changed(ask(api.DELETE("/api/folders", { params: { query: { path } } })));
          }}
          onFile={bring}
        />
      )}
      <main className={cx("list")}>
        {problem && (
          <Message bad live>
            {problem}
          </Message>
        )}
        <div className={cx("title")}>
          <h1>{heading}</h1>
          <span className="quiet" role="status">
            {shelf ? `${shown.length} ${shown.length === 1 ? "model" : "models"}` : "Reading …"}
            {running > 0 && `, ${running} ${running === 1 ? "study" : "studies"} running`}
            {said && `. ${said}`}
          </span>
          <Segmented aria-label="Order" size="small" value={order} options={orders} onChange={setOrder} />
        </div>
        {shelf && shown.length === 0 && (
          <p className={cx("none")}>
            {inTrash
              ? "Nothing lies in the trash."
              : search
                ? "No model has all of these words."
                : "No model lies here yet. Begin with a new one, drop a file, or take an example below."}
          </p>
        )}
        <ul ref={list} className={cx("models")}>
          {shown.map((m) => (
            <ShelfRow key={m.id} model={m} onCard={learn} onAction={(action, model, name) => void act(action, model, name)} />
          ))}
        </ul>
        {!inTrash && !search && brief.length > 0 && (
          <section aria-label="Examples">
            <div className={cx("title")}>
              <h2>Learn by example</h2>
              <span className="quiet">each opens as your own copy</span>
              <a href="#/examples">All {examples.length}</a>
            </div>
            <ul className={cx("examples", "brief")}>
              {brief.map((e) => (
                <ExampleCard key={e.key} example={e} brief onOpen={(key) => begin({ example: key })} />
              ))}
            </ul>
          </section>
        )}
      </main>
      <StartAside>{lessons}</StartAside>
      {placing && shelf && (
        <PlaceForm
          model={placing}
          folders={shelf.folders}
          tags={shelf.tags}
          onCancel={() => setPlacing(null)}
          onDone={(to, tags) => {
            const { id } = placing;
            setPlacing(null);
            changed(ask(api.PUT("/api/models/{id}/place", { params: { path: { id } }, body: { folder: to, tags } })));
          }}
        />
      )}
    </div>
  );
}
