import classNames from "classnames/bind";
import { Button, Select } from "antd";
import { useState } from "react";
import type { PartView, Schemas } from "../../api/client";
import { placesOfMember } from "../../state/bundles";
import { restructure } from "../../state/model";
import { TextField } from "../../ui/TextField";
import { DeclaredMembers } from "./DeclaredMembers";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

interface Asked {
  member: string;
  to: string;
  places: string[];
}

/** What a bundle holds: free names or those of a type, and another name for one, followed wherever the bundle goes. */
export function BundlePanel({ part, view, bundle }: { part: string; view: PartView; bundle: Schemas["BundleTypeView"] }) {
  const [asked, setAsked] = useState<Asked | null>(null);
  const members = view.ports.filter((p) => p.name !== "bundle").map((p) => p.name);
  const ask = async (member: string, to: string) => {
    const places = await placesOfMember(part, member, to);
    if (places) setAsked({ member, to, places });
  };
  return (
    <>
      <TypeChoice part={part} bundle={bundle} />
      {bundle.definition ? (
        <DeclaredMembers part={part} bundle={bundle} rename={(member, to) => void ask(member, to)} />
      ) : (
        members.length > 0 && (
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
          </section>
        )
      )}
      {asked && <Places part={part} asked={asked} close={() => setAsked(null)} />}
    </>
  );
}

/** Where a member would be renamed, before it is. */
function Places({ part, asked, close }: { part: string; asked: Asked; close: () => void }) {
  return (
    <div className={cx("places")} role="group" aria-label={`Places where ${asked.member} is renamed`}>
      <p>
        {asked.member} → {asked.to} in {asked.places.length} {asked.places.length === 1 ? "place" : "places"}
        {asked.places.length > 0 && `: ${asked.places.join(", ")}`}
      </p>
      <Button
        size="small"
        type="primary"
        onClick={() => {
          close();
          void restructure({ kind: "renameMember", part, member: asked.member, to: asked.to });
        }}
      >
        Rename
      </Button>
      <Button size="small" onClick={close}>
        Leave
      </Button>
    </div>
  );
}

const FREE = "";

/** Of which type a bundle is, and a new type made of what it holds. */
function TypeChoice({ part, bundle }: { part: string; bundle: Schemas["BundleTypeView"] }) {
  const declare = (name: string) =>
    void restructure({ kind: "declareBundle", part, name, description: null, definition: null, members: bundle.members });
  return (
    <section aria-label="Type of the bundle">
      <div className={cx("row")}>
        <label htmlFor={`${part}-type`}>Declared by</label>
        <Select
          id={`${part}-type`}
          size="small"
          aria-label="Type of the bundle"
          value={bundle.type ?? FREE}
          options={[{ value: FREE, label: "nothing, free names" }, ...bundle.types.map((t) => ({ value: t, label: t }))]}
          onChange={(type: string) => void restructure({ kind: "setBundleType", part, type: type === FREE ? null : type })}
          popupMatchSelectWidth={false}
        />
      </div>
      {bundle.type === null && bundle.members.length > 0 && (
        <div className={cx("row", "wide")}>
          <label htmlFor={`${part}-new-type`}>Declare these as</label>
          <TextField id={`${part}-new-type`} label="Name of a new type" value="" placeholder="name of a type" commit={declare} />
        </div>
      )}
      {bundle.type !== null && bundle.definition === null && (
        <p className="quiet">Its text says more than a table can; change it in the text of {bundle.type}.</p>
      )}
    </section>
  );
}
