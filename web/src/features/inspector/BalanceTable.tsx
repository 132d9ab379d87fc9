import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { notifyError, select, useBench } from "../../state/bench";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** Equations and unknowns of each part of the level, asked for by a button: what does not come out even stands first. */
export function BalanceTable() {
  const id = useBench((s) => s.id);
  const level = useBench((s) => s.level);
  const revision = useBench((s) => s.revision);
  const [asked, setAsked] = useState<{ of: string; balance: Schemas["BalanceView"] } | null>(null);
  const now = `${id} ${level} ${revision}`;
  const count = async () => {
    try {
      const balance = await ask(api.GET("/api/models/{id}/balance", { params: { path: { id }, query: { level } } }));
      setAsked({ of: now, balance });
    } catch (e) {
      notifyError((e as Error).message);
    }
  };
  if (asked?.of !== now)
    return (
      <Button size="small" onClick={() => void count()}>
        Count per part
      </Button>
    );
  const { balance } = asked;
  const parts = [...balance.parts].sort((a, b) => Math.abs(b.missing ?? 0) - Math.abs(a.missing ?? 0) || b.unknowns - a.unknowns);
  return (
    <table className={cx("balance")}>
      <thead>
        <tr>
          <th scope="col">
            {balance.equations} equations, {balance.unknowns} unknowns
          </th>
          <th scope="col">own</th>
          <th scope="col">by ports</th>
          <th scope="col">unknown</th>
        </tr>
      </thead>
      <tbody>
        {parts.map((p) => (
          <tr key={p.part} className={cx({ uneven: !!p.missing })}>
            <td>
              <Button type="link" size="small" onClick={() => select([p.part])}>
                {p.name}
              </Button>
              {!!p.missing && <small>{p.missing > 0 ? `${p.missing} too few` : `${-p.missing} too many`}</small>}
            </td>
            <td>{p.equations}</td>
            <td>{p.given}</td>
            <td>{p.unknowns}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
