import classNames from "classnames/bind";
import { Button, Popover } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import type { Sight } from "../../scene/SceneDrawing";
import { TextField } from "../../ui/TextField";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

export type SceneViewNode = Schemas["SceneViewNode"];

interface Props {
  views: readonly SceneViewNode[];
  keep?: (views: readonly SceneViewNode[]) => void;
  /** Where the scene is looked at from now. */
  sight: () => Sight | undefined;
  look: (view: SceneViewNode) => void;
}

/** Places that the scene was looked at from, under names: gone back to, kept and taken away. */
export function SceneViews({ views, keep, sight, look }: Props) {
  const [open, setOpen] = useState(false);
  if (views.length === 0 && !keep) return null;
  const list = (
    <div className={cx("scene-views")}>
      {views.length === 0 && <p>Turn the scene with Orbit, then keep where you stand.</p>}
      <ul aria-label="Kept views">
        {views.map((v) => (
          <li key={v.name}>
            <Button
              size="small"
              type="text"
              onClick={() => {
                look(v);
                setOpen(false);
              }}
            >
              {v.name}
            </Button>
            {keep && (
              <Button
                size="small"
                type="text"
                aria-label={`Remove the view ${v.name}`}
                onClick={() => keep(views.filter((other) => other !== v))}
              >
                Remove
              </Button>
            )}
          </li>
        ))}
      </ul>
      {keep && (
        <TextField
          label="Name of the view to keep"
          value=""
          placeholder="Keep this view as …"
          prose
          commit={(name) => {
            const now = sight();
            if (now) keep([...views.filter((v) => v.name !== name), { name, ...now }]);
          }}
        />
      )}
    </div>
  );
  return (
    <Popover trigger="click" placement="bottomLeft" open={open} onOpenChange={setOpen} content={list}>
      <Button size="small" aria-expanded={open}>
        Views
      </Button>
    </Popover>
  );
}
