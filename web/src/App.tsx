import { App as AntApp, ConfigProvider } from "antd";
import { lazy, Suspense, useEffect, useMemo, useState } from "react";

import { leave } from "./model/session/leaving";
import { useEditor } from "./model/store";
import { BuildList } from "./panels/builds/BuildList";
import { Hint } from "./panels/fields/Tip";
import { antTheme } from "./theme/theme";

/** All that draws comes with it; whoever looks at the list has it fetched meanwhile. */
const fetchEditor = () => import("./panels/frame/EditorPage");
const EditorPage = lazy(() => fetchEditor().then((m) => ({ default: m.EditorPage })).catch(() => ({ default: Unfetched })));

/** Away, or the product was renewed meanwhile: with the page come the scripts that belong to it. */
function Unfetched() {
  return <p className="waiting" role="alert">The workbench could not be fetched. <button type="button" className="link" onClick={() => location.reload()}>Try again</button></p>;
}

function openId(): string | null {
  return /^\/build\/([0-9a-f]+)$/.exec(location.pathname)?.[1] ?? null;
}

/** What is told stands over the lower edge of the sheet: the bar with the fit, and what is worked on, stay in sight. */
const TOLD = { top: "calc(100vh - 196px)", maxCount: 3 };

/** The two pages: the list of builds, and one build. */
export function App() {
  const [id, setId] = useState(openId);
  const night = useEditor((s) => s.night);
  const theme = useMemo(() => antTheme(night), [night]);

  useEffect(() => {
    // what a tool has under way is kept, whichever way the build is left
    const hear = () => void leave().then(() => setId(openId()));
    window.addEventListener("popstate", hear);
    return () => window.removeEventListener("popstate", hear);
  }, []);

  useEffect(() => {
    if (id === null) void fetchEditor().catch(() => undefined); // asked for again when a build is opened
  }, [id]);

  const go = (to: string | null) => {
    void leave().then(() => {
      history.pushState(null, "", to === null ? "/" : `/build/${to}`);
      document.title = "Rhytonic";
      setId(to);
    });
  };
  return (
    <ConfigProvider theme={theme} wave={{ disabled: true }}>
      <AntApp className="app" message={TOLD}>
        <Hint />
        {id === null ? <BuildList onOpen={go} /> : <Suspense fallback={<p className="waiting" role="status">Fetching the workbench …</p>}><EditorPage key={id} id={id} onHome={() => go(null)} /></Suspense>}
      </AntApp>
    </ConfigProvider>
  );
}
