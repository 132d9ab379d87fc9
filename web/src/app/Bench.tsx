import { lazy, Suspense, useEffect, useState } from "react";
import { Diagram } from "../features/build/Diagram";
import { Inspector } from "../features/inspector/Inspector";
import { isStale, useBench } from "../state/bench";
import { Strips } from "../features/observe/Strips";
import { Header } from "./Header";
import { undoKey } from "./undoKeys";
import { Notices } from "./Notices";
import { Palette } from "./Palette";
import { Pane } from "./Pane";
import { Rail } from "./Rail";
import { TimeBar } from "../features/run/TimeBar";

const TuneStage = lazy(() => import("../features/tune/TuneStage"));
const PartEditor = lazy(() => import("../features/parts/PartEditor"));
const VerifyStage = lazy(() => import("../features/verify/VerifyStage"));

/** The main screen for one model. It takes little of the state itself, so that an edit draws only what shows it. */
export function Bench() {
  const stage = useBench((s) => s.stage);
  const [finding, setFinding] = useState(false);
  const stale = useBench(isStale);
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      undoKey(e);
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "k") {
        e.preventDefault();
        setFinding(true);
      }
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, []);
  const open = useBench((s) => s.openPart?.name);
  return (
    <div className={`bench stage-${stage} ${stale ? "stale" : ""}`}>
      <Rail />
      <Pane name="The head">
        <Header onFind={() => setFinding(true)} />
      </Pane>
      <main className="middle">
        <Notices />
        <Pane key={stage} name="This stage">
          {stage === "build" && <Diagram />}
        </Pane>
        <Suspense fallback={<div className="loading">Loading…</div>}>
          <Pane key={`${stage} ${open ?? ""}`} name="This stage">
            {stage === "build" && open && <PartEditor key={open} name={open} />}
            {stage === "tune" && <TuneStage />}
            {stage === "verify" && <VerifyStage />}
          </Pane>
        </Suspense>
      </main>
      <Pane name="The time bar">
        <TimeBar />
      </Pane>
      <section className="traces">
        <Pane name="The traces">
          <Strips />
        </Pane>
      </section>
      <Pane name="The inspector">
        <Inspector />
      </Pane>
      {finding && <Palette onClose={() => setFinding(false)} />}
    </div>
  );
}
