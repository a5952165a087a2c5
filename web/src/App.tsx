import { App as AntApp, ConfigProvider } from "antd";
import { useEffect, useMemo, useState } from "react";

import { accept } from "./interaction/session/storing";
import { useEditor } from "./model/store";
import { BuildList } from "./panels/builds/BuildList";
import { EditorPage } from "./panels/frame/EditorPage";
import { antTheme } from "./theme/theme";

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
    const hear = () => void accept().then(() => setId(openId()));
    window.addEventListener("popstate", hear);
    return () => window.removeEventListener("popstate", hear);
  }, []);

  const go = (to: string | null) => {
    void accept().then(() => {
      history.pushState(null, "", to === null ? "/" : `/build/${to}`);
      document.title = "Rhytonic";
      setId(to);
    });
  };
  return (
    <ConfigProvider theme={theme} wave={{ disabled: true }}>
      <AntApp className="app" message={TOLD}>
        {id === null ? <BuildList onOpen={go} /> : <EditorPage key={id} id={id} onHome={() => go(null)} />}
      </AntApp>
    </ConfigProvider>
  );
}
