import { lazy, type ComponentType, type ReactNode } from "react";
import { RunsPane } from "../features/observe/RunsPane";
import type { BenchState, Stage } from "../state/bench";
import { BuildScreen } from "./BuildScreen";

export interface StageEntry {
  id: Stage;
  label: string;
  /** The mark on the rail: a path in a square of 20. */
  path: string;
  /** What fills the middle. */
  Screen: ComponentType;
  /** Whether traces stand under it. */
  hasTraces: boolean;
  /** Whether it is about no single run, so that no time bar stands under it. */
  hasNoTime?: boolean;
  /** What stands under it; it is handed the traces, which it shows where it has nothing else. */
  Below?: ComponentType<{ traces: ReactNode }>;
  /** Whether a run is shown with it; where it is not, nothing stands under it. */
  showsRun?: (s: BenchState) => boolean;
  /** What stands beside it; the inspector of what is selected without one. */
  Aside?: ComponentType;
}

/** The stages of the work, in its order: a new one is entered here and nowhere else. */
export const stages: readonly StageEntry[] = [
  { id: "build", label: "Build", path: "M2 6h6v8H2zM12 6h6v8h-6zM8 10h4", Screen: BuildScreen, hasTraces: true },
  {
    id: "observe",
    label: "Observe",
    path: "M2 14c3 0 3-9 6-9s3 7 5 7 2-3 5-3M2 18h16",
    Screen: lazy(() => import("../features/observe/ObserveStage")),
    hasTraces: false,
    Aside: RunsPane,
  },
  {
    id: "tune",
    label: "Tune",
    path: "M3 4v6M3 14v2M10 4v1M10 9v7M17 4v4M17 12v4M1 12h4M8 7h4M15 10h4",
    Screen: lazy(() => import("../features/tune/TuneStage")),
    hasTraces: false,
    Below: lazy(() => import("../features/tune/Responses")),
    Aside: lazy(() => import("../features/tune/TunePane")),
  },
  {
    id: "explore",
    label: "Explore",
    path: "M2 17c4 0 9-3 16-13M2 17c5 0 10-2 16-7M2 17c6 0 11 0 16-1",
    Screen: lazy(() => import("../features/explore/ExploreStage")),
    hasTraces: false,
    hasNoTime: true,
    Aside: lazy(() => import("../features/explore/ExplorePane")),
  },
  {
    id: "verify",
    label: "Verify",
    path: "M3 3h14v14H3zM6.5 10.5l2.5 2.5 5-6",
    Screen: lazy(() => import("../features/verify/VerifyStage")),
    hasTraces: false,
    Below: lazy(() => import("../features/verify/VerifyBelow")),
    Aside: lazy(() => import("../features/verify/VerifyAside")),
  },
  {
    id: "deliver",
    label: "Deliver",
    path: "M10 3v9M6 8.5l4 4 4-4M3 13v4h14v-4",
    Screen: lazy(() => import("../features/deliver/DeliverStage")),
    hasTraces: false,
    showsRun: (s) => Boolean(s.run?.target),
    Below: lazy(() => import("../features/deliver/TargetBelow")),
    Aside: lazy(() => import("../features/deliver/DeliverAside")),
  },
];

/** The stage of an address; Build where it names none. */
export const stageOf = (text: string | undefined): Stage => stages.find((s) => s.id === text)?.id ?? "build";
