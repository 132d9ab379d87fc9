import "@fontsource/ibm-plex-mono/400.css";
import "@fontsource/ibm-plex-mono/500.css";
import "@fontsource/ibm-plex-sans/400.css";
import "@fontsource/ibm-plex-sans/500.css";
import "@fontsource/ibm-plex-sans/600.css";
import "katex/dist/katex.min.css";
import "./ui/base.css";
import { ConfigProvider, Modal } from "antd";
import { lazy, StrictMode, Suspense, useEffect, useLayoutEffect, useRef, useState } from "react";
import { createRoot } from "react-dom/client";
import { Route, Router, Switch } from "wouter";
import { navigate, useHashLocation } from "wouter/use-hash-location";
import { Bench } from "./app/Bench";
import { Places } from "./app/Places";
import { SignIn } from "./features/people/SignIn";
import { LessonList } from "./features/lessons/LessonList";
import { StartPage } from "./features/start/StartPage";
import { stageOf } from "./app/stages";
import { addressOf, lookRoute, modelRoute, placeOf } from "./ui/routes";
import { setStage, useBench } from "./state/bench";
import { readMe, useMe } from "./state/me";
import { closeModel, goToLevel, openModel } from "./state/model";
import { restorePanes } from "./ui/Splitter";
import { applyTokens, theme } from "./ui/tokens";

const ExamplesPage = lazy(() => import("./features/start/ExamplesPage").then((m) => ({ default: m.ExamplesPage })));
const HelpPage = lazy(() => import("./features/help/HelpPage").then((m) => ({ default: m.HelpPage })));
const InterfacePage = lazy(() => import("./features/start/InterfacePage").then((m) => ({ default: m.InterfacePage })));

/** One model, from opening it to leaving it; the address says what of it is shown. */
function ModelPage({ id, stage: stageName, level, looks = false }: { id: string; stage: string; level: string; looks?: boolean }) {
  const stage = stageOf(stageName);
  const [state, setState] = useState<{ problem: string | null } | null>(null);
  const address = useRef({ stage, level });
  useLayoutEffect(() => {
    address.current = { stage, level };
  });
  useEffect(() => {
    let current = true;
    openModel(id, address.current.level, address.current.stage, looks).then(
      () => current && setState({ problem: null }),
      (e: Error) => current && setState({ problem: e.message }),
    );
    return () => {
      current = false;
      closeModel();
    };
  }, [id, looks]);
  const isOpen = state !== null && state.problem === null;
  // Back and forward lead the bench,
  useEffect(() => {
    if (!isOpen) return;
    if (useBench.getState().stage !== stage) setStage(stage);
    if (useBench.getState().level !== level) void goToLevel(level);
  }, [isOpen, stage, level]);
  // and where the bench goes, the address follows.
  useEffect(() => {
    if (!isOpen) return;
    return useBench.subscribe((now, before) => {
      if (now.stage === before.stage && now.level === before.level) return;
      if (now.stage !== address.current.stage || now.level !== address.current.level) navigate(addressOf(id, now.stage, now.level, looks));
    });
  }, [isOpen, id, looks]);
  if (!state) return <div className="loading">Opening…</div>;
  if (state.problem)
    return (
      <div className="loading" role="alert">
        {state.problem} <a href="#/">All models</a>
      </div>
    );
  return <Bench />;
}

const AccountPage = lazy(() => import("./features/people/AccountPage").then((m) => ({ default: m.AccountPage })));
const PeoplePage = lazy(() => import("./features/people/PeoplePage").then((m) => ({ default: m.PeoplePage })));

/** Pages for whoever may be here; the way in for others. What is open stays open behind it while somebody signs in again. */
function App() {
  const me = useMe((s) => s.me);
  const [problem, setProblem] = useState("");
  const [hasBeenIn, setHasBeenIn] = useState(false);
  useEffect(() => {
    readMe().catch((e: Error) => setProblem(e.message));
  }, []);
  const isIn = me !== null && (!me.isNeeded || Boolean(me.account));
  useEffect(() => {
    if (isIn) setHasBeenIn(true);
  }, [isIn]);
  if (!me)
    return (
      <div className="loading" role={problem ? "alert" : "status"}>
        {problem || "Opening…"}
      </div>
    );
  return (
    <>
      {(isIn || hasBeenIn) && <Pages />}
      {!isIn &&
        (hasBeenIn ? (
          <Modal open closable={false} footer={null} aria-label="Sign in again">
            <SignIn me={me} />
          </Modal>
        ) : (
          <SignIn me={me} />
        ))}
    </>
  );
}

const Pages = () => (
  <Router hook={useHashLocation}>
    <Switch>
      <Route path={modelRoute}>{({ id, "*": rest }) => <ModelPage key={id} id={id} {...placeOf(rest)} />}</Route>
      <Route path={lookRoute}>{({ id, "*": rest }) => <ModelPage key={`${id} look`} id={id} {...placeOf(rest)} looks />}</Route>
      <Route path="/examples">
        <Places at="examples">
          <Suspense fallback={<div className="loading">Loading…</div>}>
            <ExamplesPage />
          </Suspense>
        </Places>
      </Route>
      <Route path="/account">
        <Places at="account">
          <Suspense fallback={<div className="loading">Loading…</div>}>
            <AccountPage />
          </Suspense>
        </Places>
      </Route>
      <Route path="/people">
        <Places at="account">
          <Suspense fallback={<div className="loading">Loading…</div>}>
            <PeoplePage />
          </Suspense>
        </Places>
      </Route>
      <Route path="/help/*?">
        {({ "*": id }) => (
          <Places at="help">
            <Suspense fallback={<div className="loading">Loading…</div>}>
              <HelpPage id={id ?? ""} />
            </Suspense>
          </Places>
        )}
      </Route>
      <Route path="/interface">
        <Places at="help">
          <Suspense fallback={<div className="loading">Loading…</div>}>
            <InterfacePage />
          </Suspense>
        </Places>
      </Route>
      <Route>
        <Places at="models">
          <StartPage lessons={<LessonList />} />
        </Places>
      </Route>
    </Switch>
  </Router>
);

applyTokens(document.documentElement);
restorePanes();
createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <ConfigProvider theme={theme}>
      <App />
    </ConfigProvider>
  </StrictMode>,
);
