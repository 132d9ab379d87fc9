import classNames from "classnames/bind";
import { PrinterOutlined } from "@ant-design/icons";
import { Button, Input } from "antd";
import { useEffect, useMemo, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { topicAddress } from "../../ui/helpPages";
import { Message } from "../../ui/Message";
import { HelpArticle } from "./HelpArticle";
import { KeyMap } from "./KeyMap";
import styles from "./help.module.css";

const cx = classNames.bind(styles);

type Entry = Schemas["HelpEntry"];

/** What an address without a topic leads to. */
const FIRST = "guide/the-bench";

const KEYS = "keys";

/** All of the help: topics by group, found by words, one of them shown. */
export function HelpPage({ id }: { id: string }) {
  const [entries, setEntries] = useState<Entry[] | null>(null);
  const [search, setSearch] = useState("");
  const [topic, setTopic] = useState<Schemas["HelpTopic"] | null>(null);
  const [book, setBook] = useState<Schemas["HelpTopic"][] | null>(null);
  const [problem, setProblem] = useState("");
  const at = id === "" || id === "guide" ? FIRST : id;
  useEffect(() => {
    let wanted = true;
    ask(api.GET("/api/help", { params: { query: { search } } })).then(
      (found) => wanted && setEntries(found),
      (e: Error) => wanted && setProblem(e.message),
    );
    return () => {
      wanted = false;
    };
  }, [search]);
  useEffect(() => {
    if (at === KEYS) return;
    let wanted = true;
    ask(api.GET("/api/help/topic", { params: { query: { id: at } } })).then(
      (found) => {
        if (!wanted) return;
        setTopic(found);
        setProblem("");
        document.querySelector(`.${cx("shown")}`)?.scrollTo(0, 0);
      },
      (e: Error) => wanted && setProblem(e.message),
    );
    return () => {
      wanted = false;
    };
  }, [at]);
  // The book is printed when all of it stands on the page.
  useEffect(() => {
    if (!book) return;
    window.print();
    setBook(null);
  }, [book]);
  const groups = useMemo(() => {
    const found = new Map<string, Entry[]>();
    for (const e of entries ?? []) found.set(e.group, [...(found.get(e.group) ?? []), e]);
    return [...found];
  }, [entries]);
  const searching = search.trim() !== "";
  const print = () => void ask(api.GET("/api/help/book")).then(setBook, (e: Error) => setProblem(e.message));
  return (
    <div className={cx("page")}>
      <nav className={cx("topics")} aria-label="Topics">
        <Input
          allowClear
          aria-label="Find in the help"
          placeholder="Find in the help"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
        />
        <p className="quiet" role="status">
          {entries ? `${entries.length} topics` : "Reading …"}
        </p>
        {!searching && (
          <ul>
            <li>
              <a href={topicAddress(KEYS)} aria-current={at === KEYS ? "page" : undefined}>
                Keyboard map
              </a>
            </li>
          </ul>
        )}
        {groups.map(([group, all]) => (
          <details key={`${group}${searching}`} open={searching || group === "How to" || all.some((e) => e.id === at)}>
            <summary>
              {group} <span>{all.length}</span>
            </summary>
            <ul>
              {all.map((e) => (
                <li key={e.id}>
                  <a href={topicAddress(e.id)} aria-current={e.id === at ? "page" : undefined}>
                    {e.title}
                  </a>
                </li>
              ))}
            </ul>
          </details>
        ))}
        <footer>
          <Button size="small" icon={<PrinterOutlined />} onClick={print}>
            Print all, or save it as PDF
          </Button>
          <a href="#/interface">The HTTP interface</a>
        </footer>
      </nav>
      <main className={cx("shown")}>
        {problem && (
          <Message bad live>
            {problem}
          </Message>
        )}
        {book ? (
          book.map((t) => <HelpArticle key={t.id} topic={t} />)
        ) : at === KEYS ? (
          <article className={cx("article")}>
            <h2>Keyboard map</h2>
            <KeyMap />
          </article>
        ) : (
          topic && <HelpArticle topic={topic} />
        )}
      </main>
    </div>
  );
}
