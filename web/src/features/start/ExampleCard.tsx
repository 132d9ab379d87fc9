import classNames from "classnames/bind";
import { Button } from "antd";
import { useRef } from "react";
import type { Schemas } from "../../api/client";
import { LevelOutline } from "../../canvas/LevelOutline";
import { domainColor } from "../../ui/tokens";
import { useCard } from "./cards";
import styles from "./start.module.css";

const cx = classNames.bind(styles);

const levels = ["", "for the first hour", "for who knows the bench", "for a trade's details"];

interface Props {
  example: Schemas["ExampleSummary"];
  /** Only what it is about, without what to try. */
  brief?: boolean;
  onOpen: (key: string) => void;
}

/** An example: what it shows and what to try; it opens as one's own copy. */
export function ExampleCard({ example: e, brief = false, onOpen }: Props) {
  const place = useRef<HTMLLIElement>(null);
  const card = useCard(place, { example: e.key, revision: 0 });
  return (
    <li ref={place} className={cx("example")}>
      <div className={cx("drawing")}>{card?.picture && <LevelOutline picture={card.picture} views={card.views} />}</div>
      <h3>{e.name}</h3>
      {brief ? (
        <p className={cx("about")}>{e.task}</p>
      ) : (
        <>
          <p>{e.description}</p>
          <p>
            <b>Try:</b> {e.try}
          </p>
        </>
      )}
      <footer>
        <span className={cx("dots")} title={e.domains.join(", ")}>
          {e.domains.map((d) => (
            <i key={d} className={cx("dot")} style={{ background: domainColor(d) }} />
          ))}
        </span>
        <span className="quiet">
          {e.parts} parts, {e.minutes} min{brief ? "" : `, ${levels[e.level]}`}
        </span>
        <Button size="small" aria-label={`Open a copy of ${e.name}`} onClick={() => onOpen(e.key)}>
          Open a copy
        </Button>
      </footer>
    </li>
  );
}
