import classNames from "classnames/bind";
import { Button, Dropdown } from "antd";
import { CompressOutlined, ExpandOutlined } from "@ant-design/icons";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { beginPlay, goOn, isPlaying, pausePlay } from "../../state/play";
import { addItem, addPanel, ITEMS, panelsOf, removePanel, shownPanel, type PanelItemKind } from "../../state/panels";
import { PanelGrid } from "./PanelGrid";
import styles from "./panel.module.css";

const cx = classNames.bind(styles);

/** A panel of the model with its head: which one, play it, change it, let it fill the middle. */
export function PanelDock() {
  const { model, panel, editing, fills, play } = useBench(
    useShallow((s) => ({ model: s.model, panel: s.panel, editing: s.panelEdit !== null, fills: s.panelFills, play: s.play })),
  );
  const shown = shownPanel({ model, panel });
  if (!shown) return null;
  const [id, node] = shown;
  const running = play?.state === "running";
  const start = async () => {
    useBench.setState({ panelEdit: null, pace: useBench.getState().pace ?? 1 });
    if (!isPlaying()) await beginPlay();
    await goOn();
  };
  return (
    <section className={cx("dock")} aria-label="Operator panel">
      <header className={cx("head")}>
        {panelsOf(model).map(([key, p]) => (
          <Button
            key={key}
            type="text"
            size="small"
            className={cx("tab", { on: key === id })}
            aria-pressed={key === id}
            onClick={() => useBench.setState({ panel: key, panelEdit: editing ? { item: null } : null })}
          >
            {p.name}
          </Button>
        ))}
        <span className={cx("about", "quiet")}>{play ? "drives the run, actions recorded" : "play it to use it"}</span>
        <span className={cx("space")} />
        {running ? (
          <Button size="small" onClick={() => void pausePlay()}>
            Pause
          </Button>
        ) : (
          <Button size="small" type="primary" onClick={() => void start()}>
            Play
          </Button>
        )}
        {editing && (
          <Dropdown
            trigger={["click"]}
            menu={{
              items: (Object.keys(ITEMS) as PanelItemKind[]).map((k) => ({ key: k, label: ITEMS[k].label, onClick: () => addItem(id, k) })),
            }}
          >
            <Button size="small">Add</Button>
          </Dropdown>
        )}
        <Button
          size="small"
          aria-pressed={editing}
          className={cx({ pressed: editing })}
          onClick={() => useBench.setState({ panelEdit: editing ? null : { item: null } })}
        >
          {editing ? "Done" : "Change"}
        </Button>
        <Dropdown
          trigger={["click"]}
          menu={{
            items: [
              { key: "new", label: "Another panel", onClick: addPanel },
              { key: "gone", label: "Remove this panel", onClick: () => removePanel(id) },
            ],
          }}
        >
          <Button size="small" aria-label={`What can be done with the panel ${node.name}`}>
            ⋯
          </Button>
        </Dropdown>
        <Button
          type="text"
          size="small"
          icon={fills ? <CompressOutlined /> : <ExpandOutlined />}
          aria-label={fills ? "Back into the dock" : "Let the panel fill the middle"}
          onClick={() => useBench.setState({ panelFills: !fills })}
        />
      </header>
      <PanelGrid key={id} id={id} panel={node} />
    </section>
  );
}
