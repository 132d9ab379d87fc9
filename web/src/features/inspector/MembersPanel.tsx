import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import type { PartView } from "../../api/client";
import { placesOfMember } from "../../state/bundles";
import { restructure } from "../../state/model";
import { TextField } from "../../ui/TextField";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** The members that a bundle's part shows: another name for one is followed wherever the bundle goes. */
export function MembersPanel({ part, view }: { part: string; view: PartView }) {
  const [asked, setAsked] = useState<{ member: string; to: string; places: string[] } | null>(null);
  const members = view.ports.filter((p) => p.name !== "bundle").map((p) => p.name);
  if (members.length === 0) return null;
  const ask = async (member: string, to: string) => {
    const places = await placesOfMember(part, member, to);
    if (places) setAsked({ member, to, places });
  };
  return (
    <section aria-label="Members">
      <h3>Rename a member everywhere</h3>
      {members.map((m) => (
        <div key={m} className={cx("row", "wide")}>
          <label htmlFor={`${part}-member-${m}`} className="mono">
            {m}
          </label>
          <TextField
            id={`${part}-member-${m}`}
            label={`New name of the member ${m}`}
            value={m.slice(m.lastIndexOf(".") + 1)}
            commit={(to) => void ask(m, to)}
          />
        </div>
      ))}
      {asked && (
        <div className={cx("places")} role="group" aria-label={`Places where ${asked.member} is renamed`}>
          <p>
            {asked.member} → {asked.to} in {asked.places.length} {asked.places.length === 1 ? "place" : "places"}: {asked.places.join(", ")}
          </p>
          <Button
            size="small"
            type="primary"
            onClick={() => {
              setAsked(null);
              void restructure({ kind: "renameMember", part, member: asked.member, to: asked.to });
            }}
          >
            Rename
          </Button>
          <Button size="small" onClick={() => setAsked(null)}>
            Leave
          </Button>
        </div>
      )}
    </section>
  );
}
