import { Alert, Button } from "antd";
import { lazy, Suspense, useEffect, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { Diagram } from "../diagram/Diagram";
import { Inspector } from "../inspector/Inspector";
import { select, setStage, useBench } from "../state/store";
import { Strips } from "../traces/Strips";
import { Header } from "./Header";
import { Palette } from "./Palette";
import { Rail } from "./Rail";
import { TimeBar } from "./TimeBar";

const TuneStage = lazy(() => import("../tune/TuneStage"));
const PartEditor = lazy(() => import("../parts/PartEditor"));
const VerifyStage = lazy(() => import("../verify/VerifyStage"));

/** The main screen for one model. */
export function Bench() {
  const { stage, notice, run } = useBench(useShallow((s) => ({ stage: s.stage, notice: s.notice, run: s.run })));
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
  const failure = run?.failure;
  const parts = useBench((s) => s.document.parts);
  const culprit = failure && Object.keys(parts).find((id) => parts[id]?.name === failure.part);
  return (
    <div className={`bench stage-${stage}`}>
      <Rail />
      <Header onFind={() => setFinding(true)} />
      <main className="middle">
        {notice && (
          <Alert
            className="notice"
            type={notice.kind === "error" ? "error" : "info"}
            title={notice.text}
            closable={{ onClose: () => useBench.setState({ notice: null }) }}
            role="alert"
          />
        )}
        {failure && failure.code !== "canceled" && (
          <Alert
            className="notice"
            type="error"
            role="alert"
            title={`${failure.message} ${failure.advice}`}
            action={
              culprit && (
                <Button
                  size="small"
                  onClick={() => {
                    setStage("build");
                    select([culprit]);
                  }}
                >
                  Show the part
                </Button>
              )
            }
          />
        )}
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
