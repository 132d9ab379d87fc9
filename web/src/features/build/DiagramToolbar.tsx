import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { useBench } from "../../state/bench";
import { act } from "../../state/edits";
import { goToPart } from "../../state/model";
import { keys, keyText } from "../../ui/keys";
import { FindingsList } from "../../ui/FindingsList";
import { CatalogDrawer } from "./CatalogDrawer";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

interface Props {
  onPlace: () => void;
  onDropPart: (type: string, e: { clientX: number; clientY: number }) => void;
  onFit: () => void;
}

export function DiagramToolbar({ onPlace, onDropPart, onFit }: Props) {
  const findings = useBench((s) => s.view.findings);
  const [drawer, setDrawer] = useState(false);
  const [list, setList] = useState(false);
  const serious = findings.filter((f) => f.severity !== "information").length;
  const errors = findings.some((f) => f.severity === "error");
  return (
    <>
      <div className={cx("tools")} data-ui>
        <Button size="small" onClick={() => setDrawer(!drawer)} aria-pressed={drawer}>
          Parts
        </Button>
        <Button size="small" onClick={onPlace} aria-label="Place a part by name">
          Place <kbd>{keyText(keys.place)}</kbd>
        </Button>
        <Button size="small" onClick={onFit}>
          Fit <kbd>{keyText(keys.fit)}</kbd>
        </Button>
        <Button size="small" className={cx({ errors })} onClick={() => setList(!list)} aria-pressed={list}>
          {serious === 0 ? "No findings" : serious === 1 ? "1 finding" : `${serious} findings`}
        </Button>
      </div>
      {list && (
        <div className={cx("findings")} data-ui>
          <FindingsList findings={findings} onShow={(part) => void goToPart(part)} onFix={act} />
        </div>
      )}
      {drawer && <CatalogDrawer onDrop={onDropPart} onClose={() => setDrawer(false)} />}
    </>
  );
}
