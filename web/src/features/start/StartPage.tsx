import classNames from "classnames/bind";
import { DeleteOutlined } from "@ant-design/icons";
import { Button, Upload } from "antd";
import { useCallback, useEffect, useState } from "react";
import { api, ApiError, ask, type Schemas } from "../../api/client";
import { goToModel } from "../../ui/routes";
import { Message } from "../../ui/Message";
import styles from "./start.module.css";

const cx = classNames.bind(styles);

/** Models fetched at once. */
const PAGE = 100;

/** All models, and the ways to begin one. */
export function StartPage() {
  const [models, setModels] = useState<Schemas["ModelSummary"][] | null>(null);
  const [examples, setExamples] = useState<Schemas["ExampleSummary"][]>([]);
  const [problem, setProblem] = useState("");
  const [confirming, setConfirming] = useState<string | null>(null);
  const [more, setMore] = useState(false);
  const fetchFrom = useCallback((offset: number) => {
    ask(api.GET("/api/models", { params: { query: { offset, limit: PAGE } } })).then(
      (page) => {
        setModels((before) => (offset === 0 ? page : [...(before ?? []), ...page]));
        setMore(page.length === PAGE);
      },
      (e: Error) => setProblem(e.message),
    );
  }, []);
  const load = useCallback(() => fetchFrom(0), [fetchFrom]);
  useEffect(() => {
    load();
    ask(api.GET("/api/examples")).then(setExamples, () => undefined);
  }, [load]);

  const create = async (from: Partial<Schemas["CreateRequest"]>) => {
    try {
      const { id } = await ask(
        api.POST("/api/models", { body: { name: null, example: null, document: null, text: null, part: null, ...from } }),
      );
      goToModel(id);
    } catch (e) {
      setProblem((e as ApiError).message);
    }
  };

  return (
    <main className={cx("page")}>
      <header>
        <img src="/mark.svg" alt="" width="44" height="44" />
        <div>
          <h1>Anchor Bend</h1>
          <p className="quiet">Block diagrams of plants and controllers: build, run, tune, verify.</p>
        </div>
      </header>
      {problem && (
        <Message bad live>
          {problem}
        </Message>
      )}
      <section>
        <div className={cx("actions")}>
          <h2>Models</h2>
          <Button type="primary" onClick={() => void create({ name: "Untitled model" })}>
            New model
          </Button>
          <Upload
            accept=".json,.mo"
            showUploadList={false}
            beforeUpload={(file) => {
              void file.text().then((text) => {
                if (file.name.endsWith(".mo")) {
                  void create({ text });
                  return;
                }
                try {
                  void create({ document: JSON.parse(text) as unknown });
                } catch {
                  setProblem(`${file.name} is not a model document.`);
                }
              });
              return false;
            }}
          >
            <Button>Import a file</Button>
          </Upload>
        </div>
        {models?.length === 0 && <p className="quiet">No model yet. Begin with a new one or an example below.</p>}
        <ul className={cx("models")}>
          {models?.map((m) => (
            <li key={m.id}>
              <a href={`#/models/${m.id}`}>{m.name}</a>
              <span className="quiet mono">
                r{String(m.revision)} · {new Date(m.changed).toLocaleString()}
              </span>
              {confirming === m.id ? (
                <span>
                  <Button
                    size="small"
                    danger
                    onClick={() => {
                      setConfirming(null);
                      ask(api.DELETE("/api/models/{id}", { params: { path: { id: m.id } } })).then(load, load);
                    }}
                  >
                    Delete for good
                  </Button>{" "}
                  <Button size="small" onClick={() => setConfirming(null)}>
                    Keep
                  </Button>
                </span>
              ) : (
                <Button
                  type="text"
                  size="small"
                  icon={<DeleteOutlined />}
                  aria-label={`Delete ${m.name}`}
                  onClick={() => setConfirming(m.id)}
                />
              )}
            </li>
          ))}
        </ul>
        {more && (
          <Button size="small" onClick={() => fetchFrom(models?.length ?? 0)}>
            Show more
          </Button>
        )}
      </section>
      <section>
        <h2>Examples from Kittiwake Sound</h2>
        <ul className={cx("examples")}>
          {examples.map((e) => (
            <li key={e.key}>
              <h3>{e.name}</h3>
              <p>{e.description}</p>
              <Button size="small" onClick={() => void create({ example: e.key })}>
                Open a copy ({String(e.parts)} parts)
              </Button>
            </li>
          ))}
        </ul>
      </section>
      <p className="quiet">
        Scripts reach all of this by <a href="#/interface">the HTTP interface</a>.
      </p>
    </main>
  );
}
