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
import { Bench } from "./app/Bench";
import { StartPage } from "./features/start/StartPage";
import { closeModel, openModel } from "./state/model";
import { applyTokens, theme } from "./ui/tokens";

function App() {
  const [hash, setHash] = useState(window.location.hash);
  const [state, setState] = useState<{ id: string; problem: string | null } | null>(null);
  useEffect(() => {
    const changed = () => setHash(window.location.hash);
    window.addEventListener("hashchange", changed);
    return () => window.removeEventListener("hashchange", changed);
  }, []);
  const id = hash.match(/^#\/models\/([\w-]+)/)?.[1];
  useEffect(() => {
    if (!id) {
      closeModel();
      return;
    }
    let current = true;
    openModel(id).then(
      () => current && setState({ id, problem: null }),
      (e: Error) => current && setState({ id, problem: e.message }),
    );
    return () => {
      current = false;
    };
  }, [id]);
  if (!id) return <StartPage />;
  if (state?.id !== id) return <div className="loading">Opening…</div>;
  if (state.problem)
    return (
      <div className="loading" role="alert">
        {state.problem} <a href="#/">All models</a>
      </div>
    );
  return <Bench key={id} />;
}

applyTokens(document.documentElement);
createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <ConfigProvider theme={theme}>
      <App />
    </ConfigProvider>
  </StrictMode>,
);
