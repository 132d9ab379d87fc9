import classNames from "classnames/bind";
import { Button, Popover } from "antd";
import { useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { crossingsOf, hintsOf } from "../../canvas/legibility";
import { RouteCache } from "../../canvas/routes";
import { withPlaces } from "../../canvas/tidy";
import { select, useBench } from "../../state/bench";
import { keepTidied, leaveTidied, tidyLevel } from "../../state/tidying";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

/** What reads badly on the level, and the button that lays it out anew. */
export function TidyButton() {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      trigger="click"
      placement="bottomLeft"
      open={open}
      onOpenChange={setOpen}
      destroyOnHidden
      content={
        <Hints
          onTidy={() => {
            setOpen(false);
            void tidyLevel();
          }}
        />
      }
    >
      <Button size="small" aria-expanded={open}>
        Tidy
      </Button>
    </Popover>
  );
}

function Hints({ onTidy }: { onTidy: () => void }) {
  const { diagram, parts, chosen } = useBench(
    useShallow((s) => ({ diagram: s.diagram, parts: s.view.parts, chosen: [...s.selection].filter((i) => i in s.diagram.parts).length })),
  );
  const hints = useMemo(() => hintsOf(diagram, parts, new RouteCache().routes(diagram, parts, null)), [diagram, parts]);
  return (
    <div className={cx("hints")} role="dialog" aria-label="How the level reads" data-ui>
      {hints.length === 0 ? (
        <p className="quiet">Nothing reads badly here.</p>
      ) : (
        <ul>
          {hints.map((h, i) => (
            <li key={`${h.text} ${i}`}>
              <Button type="link" size="small" onClick={() => select(h.ids)}>
                {h.text}
              </Button>
            </li>
          ))}
        </ul>
      )}
      <Button type="primary" size="small" onClick={onTidy}>
        {chosen > 1 ? `Tidy the ${chosen} selected parts` : "Tidy the level"}
      </Button>
    </div>
  );
}

/** A layout that is looked at: what it makes better, and whether it is kept. */
export function TidyBar() {
  const { tidied, diagram, parts } = useBench(useShallow((s) => ({ tidied: s.tidied, diagram: s.diagram, parts: s.view.parts })));
  const counts = useMemo(() => {
    if (!tidied) return null;
    const count = (d: typeof diagram) => crossingsOf(d, new RouteCache().routes(d, parts, null)).length;
    return [count(diagram), count(withPlaces(diagram, tidied))] as const;
  }, [tidied, diagram, parts]);
  if (!tidied || !counts) return null;
  return (
    <div
      className={cx("tidy-bar")}
      role="group"
      aria-label="The layout that is looked at"
      data-ui
      onKeyDown={(e) => {
        if (e.key !== "Escape") return;
        e.stopPropagation();
        leaveTidied();
      }}
    >
      <span>{counts[0] === counts[1] ? `${counts[0]} crossings, as before` : `${counts[0]} crossings before, ${counts[1]} now`}</span>
      <Button size="small" type="primary" autoFocus onClick={keepTidied}>
        Keep it
      </Button>
      <Button size="small" onClick={leaveTidied}>
        Leave it
      </Button>
    </div>
  );
}
