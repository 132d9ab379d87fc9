import classNames from "classnames/bind";
import { Button, Form, Input } from "antd";
import { useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { readMe } from "../../state/me";
import { Message } from "../../ui/Message";
import styles from "./people.module.css";

const cx = classNames.bind(styles);

interface Typed {
  code?: string;
  name: string;
  password: string;
}

/** The way in: for whom the server knows, or for the first of all. */
export function SignIn({ me }: { me: Schemas["MeView"] }) {
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const submit = async ({ code, name, password }: Typed) => {
    setBusy(true);
    setProblem("");
    try {
      if (me.isFirst) await ask(api.POST("/api/sign-in/first", { body: { code: code ?? "", name, password } }));
      else await ask(api.POST("/api/sign-in", { body: { name, password } }));
      await readMe();
    } catch (e) {
      setProblem((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <main className={cx("way-in")}>
      <img src="/mark.svg" alt="" width="44" height="44" />
      <h1>{me.isFirst ? "Make the first account" : "Sign in to Anchor Bend"}</h1>
      {me.isFirst && (
        <p className="quiet">It is an administrator's. The server printed a code at its start; whoever can read its console may begin.</p>
      )}
      <Form layout="vertical" requiredMark={false} onFinish={(typed: Typed) => void submit(typed)}>
        {me.isFirst && (
          <Form.Item name="code" label="Code from the console" rules={[{ required: true, message: "Type the code." }]}>
            <Input autoComplete="off" autoFocus />
          </Form.Item>
        )}
        <Form.Item name="name" label="Name" rules={[{ required: true, message: "Type your name." }]}>
          <Input autoComplete="username" autoFocus={!me.isFirst} />
        </Form.Item>
        <Form.Item
          name="password"
          label="Password"
          extra={me.isFirst ? "12 characters or more; several words are good." : undefined}
          rules={[{ required: true, message: "Type your password." }]}
        >
          <Input.Password autoComplete={me.isFirst ? "new-password" : "current-password"} />
        </Form.Item>
        {problem && (
          <Message bad live>
            {problem}
          </Message>
        )}
        <Button type="primary" htmlType="submit" loading={busy} block>
          {me.isFirst ? "Make it and sign in" : "Sign in"}
        </Button>
      </Form>
    </main>
  );
}
