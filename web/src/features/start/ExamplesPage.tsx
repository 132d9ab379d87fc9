import classNames from "classnames/bind";
import { Input, Select } from "antd";
import { useEffect, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { Message } from "../../ui/Message";
import { create } from "./create";
import { ExampleCard } from "./ExampleCard";
import styles from "./start.module.css";

const cx = classNames.bind(styles);

type Example = Schemas["ExampleSummary"];

/** All examples, by what one learns to do by them. */
export function ExamplesPage() {
  const [examples, setExamples] = useState<Example[] | null>(null);
  const [search, setSearch] = useState("");
  const [domain, setDomain] = useState<string | null>(null);
  const [level, setLevel] = useState<number | null>(null);
  const [problem, setProblem] = useState("");
  const [known, setKnown] = useState<string[]>([]);
  useEffect(() => {
    let wanted = true;
    ask(api.GET("/api/examples", { params: { query: { search } } })).then(
      (found) => {
        if (!wanted) return;
        setExamples(found);
        if (!search) setKnown([...new Set(found.flatMap((e) => e.domains))].sort());
      },
      (e: Error) => wanted && setProblem(e.message),
    );
    return () => {
      wanted = false;
    };
  }, [search]);
  const shown = (examples ?? []).filter((e) => (!domain || e.domains.includes(domain)) && (!level || e.level === level));
  const tasks = [...new Set(shown.map((e) => e.task))];
  return (
    <>
      <main className={cx("examples-page")}>
        <header>
          <h1>Examples from Kittiwake Sound</h1>
          <Input
            allowClear
            aria-label="Find an example"
            placeholder="By title, text or parts used"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
          />
          <Select
            allowClear
            aria-label="Domain"
            placeholder="Any domain"
            value={domain}
            options={known.map((d) => ({ value: d, label: d }))}
            onChange={(d) => setDomain(d ?? null)}
          />
          <Select
            allowClear
            aria-label="How far"
            placeholder="Easy or hard"
            value={level}
            options={[
              { value: 1, label: "For the first hour" },
              { value: 2, label: "For who knows the bench" },
              { value: 3, label: "For a trade's details" },
            ]}
            onChange={(l) => setLevel(l ?? null)}
          />
          <span className="quiet" role="status">
            {examples ? `${shown.length} ${shown.length === 1 ? "example" : "examples"}` : "Reading …"}
          </span>
        </header>
        {problem && (
          <Message bad live>
            {problem}
          </Message>
        )}
        {examples && shown.length === 0 && <p className="quiet">None of them has all of that. Take a word away.</p>}
        {tasks.map((task) => (
          <section key={task} aria-label={task}>
            <h2>{task}</h2>
            <ul className={cx("examples")}>
              {shown
                .filter((e) => e.task === task)
                .map((e) => (
                  <ExampleCard
                    key={e.key}
                    example={e}
                    onOpen={(key) => void create({ example: key }).catch((x: Error) => setProblem(x.message))}
                  />
                ))}
            </ul>
          </section>
        ))}
      </main>
    </>
  );
}
