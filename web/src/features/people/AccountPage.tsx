import classNames from "classnames/bind";
import { Button, Form, Input, InputNumber, Popconfirm, Select, Table } from "antd";
import { useCallback, useEffect, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { useMe } from "../../state/me";
import { Message } from "../../ui/Message";
import styles from "./people.module.css";

const cx = classNames.bind(styles);

const day = (at: string | null | undefined) => (at ? new Date(at).toLocaleDateString("en-GB") : "never");

/** One's own account: the password, and keys for scripts. */
export function AccountPage() {
  const me = useMe((s) => s.me);
  const [tokens, setTokens] = useState<Schemas["TokenView"][]>([]);
  const [key, setKey] = useState("");
  const [problem, setProblem] = useState("");
  const [said, setSaid] = useState("");
  const told = useCallback((e: Error) => setProblem(e.message), []);
  const load = useCallback(() => ask(api.GET("/api/me/tokens")).then(setTokens, told), [told]);
  useEffect(() => void load(), [load]);
  const [form] = Form.useForm<{ present: string; wanted: string }>();
  const change = async (typed: { present: string; wanted: string }) => {
    setProblem("");
    try {
      await ask(api.PUT("/api/me/password", { body: typed }));
      form.resetFields();
      setSaid("The password is changed; other browsers have to sign in again.");
    } catch (e) {
      told(e as Error);
    }
  };
  const issue = async (typed: { name: string; mayEdit: boolean; days: number }) => {
    setProblem("");
    try {
      setKey((await ask(api.POST("/api/me/tokens", { body: typed }))).key);
      await load();
    } catch (e) {
      told(e as Error);
    }
  };
  return (
    <main className={cx("page")}>
      <h1>{me?.name}</h1>
      {problem && (
        <Message bad live>
          {problem}
        </Message>
      )}
      {said && <Message live>{said}</Message>}
      <section aria-label="Password">
        <h2>Password</h2>
        <Form form={form} layout="inline" onFinish={(t: { present: string; wanted: string }) => void change(t)}>
          <Form.Item name="present" label="Present one" rules={[{ required: true, message: "Type it." }]}>
            <Input.Password autoComplete="current-password" />
          </Form.Item>
          <Form.Item name="wanted" label="New one" rules={[{ required: true, min: 12, message: "12 characters or more." }]}>
            <Input.Password autoComplete="new-password" />
          </Form.Item>
          <Button htmlType="submit">Change the password</Button>
        </Form>
      </section>
      <section aria-label="Keys for scripts">
        <h2>Keys for scripts</h2>
        <p className="quiet">
          A script sends its key as <code>Authorization: Bearer …</code> and may do what you may, or only look.
        </p>
        <Form
          layout="inline"
          initialValues={{ mayEdit: false, days: 90 }}
          onFinish={(t: { name: string; mayEdit: boolean; days: number }) => void issue(t)}
        >
          <Form.Item name="name" label="What it is for" rules={[{ required: true, message: "Say what it is for." }]}>
            <Input autoComplete="off" />
          </Form.Item>
          <Form.Item name="mayEdit" label="May">
            <Select
              style={{ width: 150 }}
              options={[
                { value: false, label: "only look" },
                { value: true, label: "do what I may" },
              ]}
            />
          </Form.Item>
          <Form.Item name="days" label="Days">
            <InputNumber min={1} max={366} />
          </Form.Item>
          <Button htmlType="submit">Make a key</Button>
        </Form>
        {key && (
          <Message live>
            The key, shown this once: <code className={cx("key")}>{key}</code>
          </Message>
        )}
        <Table
          size="small"
          rowKey="id"
          pagination={false}
          dataSource={tokens}
          locale={{ emptyText: "No key yet." }}
          columns={[
            { title: "What it is for", dataIndex: "name" },
            { title: "May", render: (t: Schemas["TokenView"]) => (t.mayEdit ? "do what you may" : "only look") },
            { title: "Good until", render: (t: Schemas["TokenView"]) => day(t.ends) },
            { title: "Last used", render: (t: Schemas["TokenView"]) => day(t.last) },
            {
              title: "",
              render: (t: Schemas["TokenView"]) => (
                <Popconfirm
                  title="Scripts with this key are out at once."
                  okText="Remove the key"
                  cancelText="Keep"
                  onConfirm={() => void ask(api.DELETE("/api/me/tokens/{token}", { params: { path: { token: t.id } } })).then(load, told)}
                >
                  <Button size="small" type="text" aria-label={`Remove the key ${t.name}`}>
                    Remove
                  </Button>
                </Popconfirm>
              ),
            },
          ]}
        />
      </section>
    </main>
  );
}
