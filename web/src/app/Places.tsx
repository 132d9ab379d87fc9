import classNames from "classnames/bind";
import { Button, Dropdown } from "antd";
import type { ReactNode } from "react";
import { signOut, useMe } from "../state/me";
import styles from "./app.module.css";

const cx = classNames.bind(styles);

const places = [
  { id: "models", label: "Models", href: "#/", path: "M2 4h16v5H2zM2 11h16v5H2zM5 6.5h.01M5 13.5h.01" },
  { id: "examples", label: "Examples", href: "#/examples", path: "M3 4l5-1.5v13L3 17zM8 2.5l4 1.5v13l-4-1.5M12 4l5-1.5v13L12 17" },
  { id: "help", label: "Help", href: "#/help", path: "M10 2a8 8 0 1 0 0 16a8 8 0 1 0 0-16M7.6 8a2.4 2.4 0 1 1 2.4 2.6v1.6M10 14.6v.01" },
] as const;

export type Place = (typeof places)[number]["id"] | "account";

/** The page while no model is open: the rail holds places instead of stages. */
export function Places({ at, children }: { at: Place; children: ReactNode }) {
  const me = useMe((s) => s.me);
  return (
    <div className={cx("places")}>
      <nav className={cx("rail")} aria-label="Places">
        <a href="#/" className={cx("mark")} aria-label="All models">
          <img src="/mark.svg" alt="" width="36" height="36" />
        </a>
        {places.map((p) => (
          <a key={p.id} href={p.href} className={cx("place", { on: p.id === at })} aria-current={p.id === at ? "page" : undefined}>
            <svg viewBox="0 0 20 20" aria-hidden>
              <path d={p.path} />
            </svg>
            {p.label}
          </a>
        ))}
        {me?.account && (
          <Dropdown
            trigger={["click"]}
            placement="topRight"
            menu={{
              items: [
                { key: "account", label: <a href="#/account">Password and keys</a> },
                ...(me.isAdministrator ? [{ key: "people", label: <a href="#/people">People and rights</a> }] : []),
                { key: "out", label: "Sign out", onClick: () => void signOut() },
              ],
            }}
          >
            <Button type="text" className={cx("stage", "account")} aria-label={`${me.name}: account`}>
              <svg viewBox="0 0 20 20" aria-hidden>
                <path d="M10 3a3.4 3.4 0 1 0 0 6.8a3.4 3.4 0 1 0 0-6.8M3.5 17c1-4 3.4-5 6.5-5s5.5 1 6.5 5" />
              </svg>
              <span className={cx("account-name")}>{me.name}</span>
            </Button>
          </Dropdown>
        )}
      </nav>
      {children}
    </div>
  );
}
