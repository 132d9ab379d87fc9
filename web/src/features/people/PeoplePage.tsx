import classNames from "classnames/bind";
import { AutoComplete, Button, Checkbox, Form, Input, Select, Table, Tag } from "antd";
import { useCallback, useEffect, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { Message } from "../../ui/Message";
import styles from "./people.module.css";

const cx = classNames.bind(styles);

type Account = Schemas["AccountView"];
type Grant = Schemas["Grant"];
type May = Schemas["Access"];

const rights: { value: May; label: string }[] = [
  { value: "none", label: "nothing" },
  { value: "view", label: "look and run" },
  { value: "edit", label: "change" },
  { value: "administer", label: "delete and move" },
];

/** Who may sign in and what they may do, and what was done: for administrators. */
export function PeoplePage() {
  const [accounts, setAccounts] = useState<Account[]>([]);
  const [grants, setGrants] = useState<Grant[]>([]);
  const [audit, setAudit] = useState<Schemas["AuditEntry"][]>([]);
  const [folders, setFolders] = useState<string[]>([]);
  const [problem, setProblem] = useState("");
  const told = useCallback((e: Error) => setProblem(e.message), []);
  const load = useCallback(async () => {
    setProblem("");
    try {
      setAccounts(await ask(api.GET("/api/people/accounts")));
      setGrants(await ask(api.GET("/api/people/grants")));
      setAudit(await ask(api.GET("/api/people/audit", { params: { query: { limit: 200 } } })));
      setFolders((await ask(api.GET("/api/shelf"))).folders);
    } catch (e) {
      told(e as Error);
    }
  }, [told]);
  useEffect(() => void load(), [load]);
  const change = (account: string, body: Schemas["AccountChangeRequest"]) =>
    void ask(api.PUT("/api/people/accounts/{account}", { params: { path: { account } }, body })).then(load, told);
  const give = (body: Schemas["GrantRequest"]) => void ask(api.PUT("/api/people/grants", { body })).then(load, told);
  const nameOf = (id: string) => (id === "" ? "everybody" : (accounts.find((a) => a.id === id)?.shown ?? id));
  const [form] = Form.useForm<Schemas["AccountRequest"]>();
  const add = async (typed: Schemas["AccountRequest"]) => {
    try {
      await ask(api.POST("/api/people/accounts", { body: { ...typed, isAdministrator: typed.isAdministrator ?? false } }));
      form.resetFields();
      await load();
    } catch (e) {
      told(e as Error);
    }
  };
  return (
    <main className={cx("page")}>
      <h1>People</h1>
      {problem && (
        <Message bad live>
          {problem}
        </Message>
      )}
      <section aria-label="Accounts">
        <h2>Accounts</h2>
        <Table
          size="small"
          rowKey="id"
          pagination={false}
          dataSource={accounts}
          columns={[
            {
              title: "Name",
              render: (a: Account) => (
                <>
                  {a.shown} {a.isLocked && <Tag>locked for a while</Tag>}
                </>
              ),
            },
            {
              title: "Administrator",
              render: (a: Account) => (
                <Checkbox
                  aria-label={`${a.shown} is an administrator`}
                  checked={a.isAdministrator}
                  onChange={(e) => change(a.id, { isAdministrator: e.target.checked, isOff: null, password: null })}
                />
              ),
            },
            {
              title: "May sign in",
              render: (a: Account) => (
                <Checkbox
                  aria-label={`${a.shown} may sign in`}
                  checked={!a.isOff}
                  onChange={(e) => change(a.id, { isAdministrator: null, isOff: !e.target.checked, password: null })}
                />
              ),
            },
            { title: "Since", render: (a: Account) => new Date(a.made).toLocaleDateString("en-GB") },
          ]}
        />
        <Form form={form} layout="inline" onFinish={(t: Schemas["AccountRequest"]) => void add(t)}>
          <Form.Item name="name" label="Name" rules={[{ required: true, message: "Type a name." }]}>
            <Input autoComplete="off" />
          </Form.Item>
          <Form.Item name="password" label="First password" rules={[{ required: true, min: 12, message: "12 characters or more." }]}>
            <Input.Password autoComplete="new-password" />
          </Form.Item>
          <Form.Item name="isAdministrator" valuePropName="checked">
            <Checkbox>Administrator</Checkbox>
          </Form.Item>
          <Button htmlType="submit">Add</Button>
        </Form>
      </section>
      <section aria-label="Rights">
        <h2>Rights by folder</h2>
        <p className="quiet">
          What is said of a folder holds in those within until they say otherwise. Whoever made a model may do all with it; administrators
          may do all.
        </p>
        <Table
          size="small"
          rowKey={(g) => `${g.folder}/${g.account}`}
          pagination={false}
          dataSource={grants}
          columns={[
            { title: "Folder", render: (g: Grant) => g.folder || "all models" },
            { title: "Who", render: (g: Grant) => nameOf(g.account) },
            {
              title: "May",
              render: (g: Grant) => (
                <Select
                  size="small"
                  aria-label={`What ${nameOf(g.account)} may in ${g.folder || "all models"}`}
                  style={{ width: 150 }}
                  value={g.may}
                  options={rights}
                  onChange={(may) => give({ ...g, may })}
                />
              ),
            },
            {
              title: "",
              render: (g: Grant) => (
                <Button size="small" type="text" onClick={() => give({ ...g, may: null })}>
                  Take back
                </Button>
              ),
            },
          ]}
        />
        <Form layout="inline" initialValues={{ account: "", folder: "", may: "edit" }} onFinish={(g: Grant) => give(g)}>
          <Form.Item name="folder" label="Folder">
            <AutoComplete
              style={{ width: 200 }}
              placeholder="all models"
              options={folders.map((f) => ({ value: f }))}
              filterOption={(typed, option) => (option?.value ?? "").toLowerCase().includes(typed.toLowerCase())}
            />
          </Form.Item>
          <Form.Item name="account" label="Who">
            <Select
              style={{ width: 150 }}
              options={[{ value: "", label: "everybody" }, ...accounts.map((a) => ({ value: a.id, label: a.shown }))]}
            />
          </Form.Item>
          <Form.Item name="may" label="May">
            <Select style={{ width: 150 }} options={rights} />
          </Form.Item>
          <Button htmlType="submit">Give</Button>
        </Form>
      </section>
      <section aria-label="What was done">
        <h2>What was done</h2>
        <Table
          size="small"
          rowKey="number"
          pagination={{ pageSize: 25, showSizeChanger: false }}
          dataSource={audit}
          columns={[
            { title: "When", render: (e: Schemas["AuditEntry"]) => new Date(e.at).toLocaleString("en-GB") },
            { title: "Who", dataIndex: "who" },
            { title: "What", dataIndex: "what" },
            { title: "About", dataIndex: "about" },
            { title: "From", dataIndex: "from" },
          ]}
        />
      </section>
    </main>
  );
}
