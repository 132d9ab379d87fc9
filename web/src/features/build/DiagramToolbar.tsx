import { Button } from "antd";
import { useState } from "react";
import { useBench } from "../../state/bench";
import { FindingsList } from "../../ui/FindingsList";
import { CatalogDrawer } from "./CatalogDrawer";

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
      <div className="diagram-tools" data-ui>
        <Button size="small" onClick={() => setDrawer(!drawer)} aria-pressed={drawer}>
          Parts
        </Button>
        <Button size="small" onClick={onPlace} aria-label="Place a part by name">
          Place <kbd>/</kbd>
        </Button>
        <Button size="small" onClick={onFit}>
          Fit <kbd>0</kbd>
        </Button>
        <Button size="small" className={errors ? "has-errors" : ""} onClick={() => setList(!list)} aria-pressed={list}>
          {serious === 0 ? "No findings" : serious === 1 ? "1 finding" : `${serious} findings`}
        </Button>
      </div>
      {list && (
        <div className="findings-panel" data-ui>
          <FindingsList findings={findings} />
        </div>
      )}
      {drawer && <CatalogDrawer onDrop={onDropPart} onClose={() => setDrawer(false)} />}
    </>
  );
}
