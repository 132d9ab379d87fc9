import { DownOutlined, UpOutlined } from "@ant-design/icons";
import classNames from "classnames/bind";
import { Button, Select } from "antd";
import type { PartView } from "../../api/client";
import { movePort } from "../../state/levels";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

const sides = ["left", "right", "top", "bottom"].map((side) => ({ value: side, label: side }));

/** The ports of a subsystem as they stand on its plate; each can be moved along its edge or to another. */
export const PortList = ({ part, view }: { part: string; view: PartView }) => (
  <section aria-label="Ports of the subsystem">
    <h3>Ports</h3>
    <ul className={cx("ports")}>
      {sides.flatMap(({ value: side }) => {
        const here = view.ports.filter((p) => p.side === side);
        return here.map((p, i) => (
          <li key={p.name}>
            <span>
              {p.name} <small className="quiet">{p.description ?? p.what}</small>
            </span>
            <Select
              size="small"
              aria-label={`Side of ${p.name}`}
              value={side}
              options={sides}
              popupMatchSelectWidth={false}
              onChange={(to: string) => void movePort(part, p.name, to, Infinity)}
            />
            <Button
              type="text"
              size="small"
              icon={<UpOutlined />}
              aria-label={`Move ${p.name} before the port before it`}
              disabled={i === 0}
              onClick={() => void movePort(part, p.name, side, i - 1)}
            />
            <Button
              type="text"
              size="small"
              icon={<DownOutlined />}
              aria-label={`Move ${p.name} behind the port after it`}
              disabled={i === here.length - 1}
              onClick={() => void movePort(part, p.name, side, i + 1)}
            />
          </li>
        ));
      })}
    </ul>
  </section>
);
