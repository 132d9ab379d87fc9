import { lazy, Suspense, useEffect, useState } from "react";
import { Diagram } from "../diagram/Diagram";
import { Inspector } from "../inspector/Inspector";
import { useBench } from "../state/store";
import { Strips } from "../traces/Strips";
import { Header } from "./Header";
import { Notices } from "./Notices";
import { Palette } from "./Palette";
import { Rail } from "./Rail";
import { TimeBar } from "./TimeBar";

const TuneStage = lazy(() => import("../tune/TuneStage"));
const PartEditor = lazy(() => import("../parts/PartEditor"));
const VerifyStage = lazy(() => import("../verify/VerifyStage"));

/** The main screen for one model. It takes little of the state itself, so that an edit draws only what shows it. */
export function Bench() {
  const stage = useBench((s) => s.stage);
  const [finding, setFinding] = useState(false);
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
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
    <div className={`bench stage-${stage}`}>
      <Rail />
      <Header onFind={() => setFinding(true)} />
      <main className="middle">
        <Notices />
        {stage === "build" && <Diagram />}
        <Suspense fallback={<div className="loading">Loading…</div>}>
          {stage === "build" && open && <PartEditor key={open} name={open} />}
          {stage === "tune" && <TuneStage />}
          {stage === "verify" && <VerifyStage />}
        </Suspense>
      </main>
      <TimeBar />
      <section className="traces">
        <Strips />
      </section>
      <Inspector />
      {finding && <Palette onClose={() => setFinding(false)} />}
    </div>
  );
}
