import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";

import { holdName } from "./api/window";
import { App } from "./App";
import { prefs } from "./model/prefs";
import { useEditor } from "./model/store";
import { applyColours, applyTheme, isNight } from "./theme/theme";

import "@fontsource-variable/archivo";
import "antd/dist/antd.css";
import "./theme/tokens.css";
import "./theme/layout.css";

holdName();

applyTheme(isNight());
applyColours(prefs.get().colours);
useEditor.setState({ night: isNight() });

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: 2 } } })}>
      <App />
    </QueryClientProvider>
  </StrictMode>,
);
