import "@fontsource/ibm-plex-mono/400.css";
import "@fontsource/ibm-plex-mono/500.css";
import "@fontsource/ibm-plex-sans/400.css";
import "@fontsource/ibm-plex-sans/500.css";
import "@fontsource/ibm-plex-sans/600.css";
import "katex/dist/katex.min.css";
import "./ui/base.css";
import { ConfigProvider } from "antd";
import { StrictMode, useEffect, useState } from "react";
import { createRoot } from "react-dom/client";
import { Route, Router, Switch } from "wouter";
import { useHashLocation } from "wouter/use-hash-location";
import { Bench } from "./app/Bench";
import { StartPage } from "./features/start/StartPage";
import { modelRoute } from "./ui/routes";
import { closeModel, openModel } from "./state/model";
import { applyTokens, theme } from "./ui/tokens";

/** One model, from opening it to leaving it. */
function ModelPage({ id }: { id: string }) {
  const [state, setState] = useState<{ problem: string | null } | null>(null);
  useEffect(() => {
    let current = true;
    openModel(id).then(
      () => current && setState({ problem: null }),
      (e: Error) => current && setState({ problem: e.message }),
    );
    return () => {
      current = false;
      closeModel();
    };
  }, [id]);
  if (!state) return <div className="loading">Opening…</div>;
  if (state.problem)
    return (
      <div className="loading" role="alert">
        {state.problem} <a href="#/">All models</a>
      </div>
    );
  return <Bench />;
}

const App = () => (
  <Router hook={useHashLocation}>
    <Switch>
      <Route path={modelRoute}>{({ id }) => <ModelPage key={id} id={id} />}</Route>
      <Route>
        <StartPage />
      </Route>
    </Switch>
  </Router>
);

applyTokens(document.documentElement);
createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <ConfigProvider theme={theme}>
      <App />
    </ConfigProvider>
  </StrictMode>,
);
