import "@fontsource-variable/archivo";
import "./theme/tokens.css";
import "./theme/layout.css";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";

import { App } from "./App";
import { useEditor } from "./state/store";
import { prefs } from "./state/prefs";
import { applyColours, applyTheme, isNight } from "./theme/theme";

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
