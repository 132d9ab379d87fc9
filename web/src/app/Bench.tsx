import classNames from "classnames/bind";
import { lazy, Suspense, useEffect, useState } from "react";
import { tinykeys } from "tinykeys";
import { Inspector } from "../features/inspector/Inspector";
import { isStale, useBench } from "../state/bench";
import { goToNamed } from "../state/model";
import { keepPresent } from "../state/observe";
import { toggleReplay } from "../state/play";
import { shownPanel } from "../state/panels";
import { PanelDock } from "../features/panel/PanelDock";
import { PanelItemPanel } from "../features/panel/PanelItemPanel";
import { Strips } from "../features/observe/Strips";
import { keys } from "../ui/keys";
import { Splitter } from "../ui/Splitter";
import { LessonCard } from "../features/lessons/LessonCard";
import { topicAtHand } from "./topicAtHand";
import { Header } from "./Header";
import { undoKey } from "./undoKeys";
import { Notices } from "./Notices";
import { Palette } from "./Palette";
import { Pane } from "./Pane";
import { Rail } from "./Rail";
import { stages, type StageEntry } from "./stages";
import { TimeBar } from "../features/run/TimeBar";
import { useTellOnlyLooking } from "./onlyLooking";
import styles from "./app.module.css";

const cx = classNames.bind(styles);

const HelpDrawer = lazy(() => import("../features/help/HelpDrawer"));
const SheetEditor = lazy(() => import("../features/sheets/SheetEditor"));
const Comparison = lazy(() => import("../features/history/Comparison"));
const PartEditor = lazy(() => import("../features/parts/PartEditor"));

/** The main screen for one model. It takes little of the state itself, so that an edit draws only what shows it. */
export function Bench() {
  const stage = useBench((s) => s.stage);
  const [finding, setFinding] = useState(false);
  const [help, setHelp] = useState<string | null>(null);
  const [inspecting, setInspecting] = useState(false);
  const stale = useBench(isStale);
  useEffect(() => {
    const find = (e: KeyboardEvent) => {
      e.preventDefault();
      setFinding(true);
    };
    const [undo, redo] = [undoKey("undo"), undoKey("redo")];
    const done = (what: () => void) => (e: KeyboardEvent) => {
      e.preventDefault();
      what();
    };
    const help = (e: KeyboardEvent) => {
      e.preventDefault();
      setHelp(topicAtHand());
    };
    const bindings = {
      [keys.help]: help,
      [keys.keep]: done(keepPresent),
      [keys.replay]: done(toggleReplay),
      [keys.find]: find,
      [keys.undo]: undo,
      [keys.redo]: redo,
      [keys.redoAlso]: redo,
    };
    // Fields are asked by the bindings themselves.
    return tinykeys(window, bindings, { ignore: (e) => e.isComposing });
  }, []);
  const open = useBench((s) => s.openPart?.name);
  const sheet = useBench((s) => s.openSheet);
  const comparing = useBench((s) => s.comparing);
  const refused = useBench((s) => s.refused);
  useTellOnlyLooking();
  const hasPanel = useBench((s) => Object.keys(s.model.panels).length > 0);
  const fills = useBench((s) => s.panelFills);
  const changesPanel = useBench((s) => s.panelEdit !== null && shownPanel(s) !== null);
  const { Screen, hasTraces, hasNoTime, Below, Aside, showsRun } = stages.find((s) => s.id === stage) ?? (stages[0] as StageEntry);
  const hasRun = useBench((s) => showsRun?.(s) ?? true);
  const traces =
    hasPanel && !fills ? (
      <div className={cx("dock-pair")}>
        <PanelDock />
        <Strips />
      </div>
    ) : (
      <Strips />
    );
  return (
    <div
      className={cx("bench")}
      onClick={(e) => {
        // A link in a text goes to the part of that name, on this level or further in.
        const goes = (e.target as Element).closest<HTMLElement>("[data-goes]")?.dataset.goes;
        if (goes) goToNamed(goes);
      }}
      data-stage={stage}
      data-shows-run={hasRun || undefined}
      data-stale={stale || undefined}
      data-aside={inspecting ? "shown" : undefined}
    >
      <Rail />
      <Pane name="The head">
        <Header onFind={() => setFinding(true)} inspecting={inspecting} onInspect={() => setInspecting(!inspecting)} />
      </Pane>
      <main className={cx("middle")}>
        <Notices />
        <LessonCard />
        <Suspense fallback={<div className="loading">Loading…</div>}>
          <Pane key={stage} name="This stage">
            <Screen />
          </Pane>
          {stage === "build" && sheet && (
            <Pane key={sheet} name="The sheet">
              <SheetEditor id={sheet} />
            </Pane>
          )}
          {stage === "build" && comparing && (
            <Pane name="The comparison">
              <Comparison left={comparing.left} right={comparing.right} />
            </Pane>
          )}
          {stage === "build" && open && (
            <Pane key={open} name="The text of a part">
              <PartEditor name={open} />
            </Pane>
          )}
          {hasPanel && fills && (
            <Pane name="The panel">
              <div className={cx("panel-fills")}>
                <PanelDock />
              </div>
            </Pane>
          )}
        </Suspense>
      </main>
      {!hasNoTime && hasRun && (
        <Pane name="The time bar">
          <TimeBar />
        </Pane>
      )}
      {hasTraces && (
        <section className={cx("traces")} aria-label="Traces below">
          <Pane name="The traces">{traces}</Pane>
        </section>
      )}
      {Below && hasRun && (
        <div className={cx("below")}>
          <Pane name="What stands below">
            <Suspense fallback={null}>
              <Below
                traces={
                  <section className={cx("traces-within")} aria-label="Traces below">
                    {traces}
                  </section>
                }
              />
            </Suspense>
          </Pane>
        </div>
      )}
      <Pane key={Aside ? stage : ""} name="The inspector" place="inspector">
        {changesPanel ? (
          <PanelItemPanel />
        ) : Aside ? (
          <Suspense fallback={null}>
            <Aside />
          </Suspense>
        ) : (
          <Inspector key={refused} />
        )}
      </Pane>
      <div role="region" aria-label="Edges between panes" className={cx("edges")}>
        <Splitter pane="pane-inspector" edge="left" className={cx("edge-inspector")} />
        <Splitter pane="pane-traces" edge="top" className={cx("edge-traces")} />
      </div>
      {help && (
        <Suspense fallback={null}>
          <HelpDrawer id={help} onClose={() => setHelp(null)} />
        </Suspense>
      )}
      {finding && <Palette onClose={() => setFinding(false)} />}
    </div>
  );
}
