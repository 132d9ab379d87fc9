import classNames from "classnames/bind";
import { Button } from "antd";
import { useState } from "react";
import { carriesShapes } from "../../state/shapes";
import { setWireCurves, showPane, showScene, useBench } from "../../state/bench";
import { useCoverage } from "../../state/coverage";
import { act } from "../../state/edits";
import { goToPart } from "../../state/model";
import { keys, keyText } from "../../ui/keys";
import { FindingsList } from "../../ui/FindingsList";
import { TidyBar, TidyButton } from "./Tidy";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

interface Props {
  onPlace: () => void;
  onFit: () => void;
  /** Opens the menu of what is selected. */
  onMenu: () => void;
}

export function DiagramToolbar({ onPlace, onFit, onMenu }: Props) {
  const findings = useBench((s) => s.view.findings);
  const pane = useBench((s) => s.pane);
  const hasSelection = useBench((s) => s.selection.size > 0);
  const wireCurves = useBench((s) => s.wireCurves);
  const hasCases = useBench((s) => Object.keys(s.model.cases).length > 0);
  const scene = useBench((s) => s.scene);
  const hasBodies = useBench(carriesShapes);
  const marks = useCoverage((s) => s.marks);
  const [list, setList] = useState(false);
  const serious = findings.filter((f) => f.severity !== "information").length;
  const errors = findings.some((f) => f.severity === "error");
  return (
    <>
      <div className={cx("tools")} data-ui>
        {!pane && (
          <>
            <Button size="small" onClick={() => showPane("outline")}>
              Outline
            </Button>
            <Button size="small" onClick={() => showPane("catalog")}>
              Catalog
            </Button>
          </>
        )}
        <Button size="small" onClick={onPlace} aria-label="Place a part by name">
          Place <kbd>{keyText(keys.place)}</kbd>
        </Button>
        <Button size="small" onClick={onFit}>
          Fit <kbd>{keyText(keys.fit)}</kbd>
        </Button>
        <TidyButton />
        <Button
          size="small"
          aria-pressed={wireCurves}
          className={cx({ pressed: wireCurves })}
          title="Small curves of the present run on the wires"
          onClick={() => setWireCurves(!wireCurves)}
        >
          Curves
        </Button>
        {hasBodies && (
          <Button
            size="small"
            aria-pressed={scene !== null}
            className={cx({ pressed: scene !== null })}
            title="The bodies as they move, beside the diagram"
            onClick={() => showScene(scene ? null : "half")}
          >
            Scene
          </Button>
        )}
        {hasCases && (
          <Button
            size="small"
            aria-pressed={marks}
            className={cx({ pressed: marks })}
            title="Below each part how much of what it decides the cases came by"
            onClick={() => useCoverage.setState({ marks: !marks })}
          >
            Coverage
          </Button>
        )}
        {hasSelection && (
          <Button size="small" onClick={onMenu} aria-label="More that can be done with the selection">
            More
          </Button>
        )}
        <Button size="small" className={cx({ errors })} onClick={() => setList(!list)} aria-pressed={list}>
          {counted(serious, findings.length - serious)}
        </Button>
      </div>
      <TidyBar />
      {list && (
        <div className={cx("findings")} data-ui>
          <FindingsList findings={findings} onShow={(part) => void goToPart(part)} onFix={act} />
        </div>
      )}
    </>
  );
}

/** What was found, in words: what is serious, else what is only remarked. */
function counted(serious: number, remarks: number): string {
  const of = (n: number, one: string) => (n === 1 ? `1 ${one}` : `${n} ${one}s`);
  return serious > 0 ? of(serious, "finding") : remarks > 0 ? of(remarks, "remark") : "No findings";
}
