import { Input } from "antd";
import classNames from "classnames/bind";
import { useEffect, useMemo, useState } from "react";
import { nameOf, sampleOf, type Schema, type Schemas } from "./sample";
import styles from "./start.module.css";

const cx = classNames.bind(styles);

interface Operation {
  operationId?: string;
  parameters?: { name: string; in: string; required?: boolean; schema?: Schema }[];
  requestBody?: { content?: Record<string, { schema?: Schema }> };
  responses?: Record<string, { description?: string; content?: Record<string, { schema?: Schema }> }>;
}

interface Description {
  paths: Record<string, Record<string, Operation>>;
  components?: { schemas?: Schemas };
}

interface Call {
  method: string;
  path: string;
  operation: Operation;
}

/** What the server can be asked for over HTTP, from its own description. */
export function InterfacePage() {
  const [description, setDescription] = useState<Description | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [search, setSearch] = useState("");
  useEffect(() => {
    fetch("/openapi/v1.json")
      .then((r) => r.json() as Promise<Description>)
      .then(setDescription, (e: Error) => setProblem(e.message));
  }, []);
  const calls = useMemo(() => callsOf(description), [description]);
  const wanted = search.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = calls.filter((c) => wanted.every((w) => `${c.method} ${c.path} ${spoken(c)}`.toLowerCase().includes(w)));
  return (
    <main className={cx("interface")}>
      <header>
        <div>
          <h1>HTTP interface</h1>
          <p className="quiet">Everything that the screens do, scripts can ask for.</p>
        </div>
      </header>
      <Input allowClear aria-label="Find a call" placeholder="Find a call" value={search} onChange={(e) => setSearch(e.target.value)} />
      <p className="quiet" role="status">
        {problem ?? (description ? `${shown.length} of ${calls.length} calls` : "Reading …")}
      </p>
      <ul className={cx("calls")}>
        {shown.map((c) => (
          <li key={`${c.method} ${c.path}`}>
            <details>
              <summary>
                <b>{c.method}</b> <code>{c.path}</code> <span className="quiet">{spoken(c)}</span>
              </summary>
              <CallDetails call={c} schemas={description?.components?.schemas ?? {}} />
            </details>
          </li>
        ))}
      </ul>
    </main>
  );
}

function CallDetails({ call, schemas }: { call: Call; schemas: Schemas }) {
  const { parameters = [], requestBody, responses = {} } = call.operation;
  const body = Object.values(requestBody?.content ?? {})[0]?.schema;
  return (
    <div className={cx("call")}>
      {parameters.length > 0 && (
        <>
          <h3>Parameters</h3>
          <ul>
            {parameters.map((p) => (
              <li key={p.name}>
                <code>{p.name}</code> <span className="quiet">{p.in === "path" ? "in the path" : p.required ? "needed" : "if wanted"}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {body && (
        <>
          <h3>Body{body.$ref ? `: ${nameOf(body.$ref)}` : ""}</h3>
          <pre>{JSON.stringify(sampleOf(body, schemas), null, 1)}</pre>
        </>
      )}
      {Object.entries(responses).map(([status, answer]) => {
        const [kind, content] = Object.entries(answer.content ?? {})[0] ?? [];
        return (
          <div key={status}>
            <h3>
              {status} {answer.description} <span>{kind}</span>
            </h3>
            {status === "200" && content?.schema && kind?.includes("json") && (
              <pre>{JSON.stringify(sampleOf(content.schema, schemas), null, 1)}</pre>
            )}
          </div>
        );
      })}
    </div>
  );
}

const callsOf = (description: Description | null): Call[] =>
  Object.entries(description?.paths ?? {}).flatMap(([path, methods]) =>
    Object.entries(methods)
      .filter(([method]) => ["get", "post", "put", "delete", "patch"].includes(method))
      .map(([method, operation]) => ({ method: method.toUpperCase(), path, operation })),
  );

/** The name of a call in words. */
const spoken = (c: Call) => (c.operation.operationId ?? "").replace(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`);
