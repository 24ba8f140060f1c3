import "@fontsource-variable/fraunces";
import "@fontsource-variable/source-sans-3";
import "@fontsource/ibm-plex-mono/400.css";
import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./app/App";

const nonce = document.querySelector<HTMLMetaElement>("meta[name=style-nonce]")?.content;
const cache = createCache({ key: "z", nonce });
const queries = new QueryClient({
  defaultOptions: { queries: { refetchOnWindowFocus: false, staleTime: 10_000 } },
});

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <CacheProvider value={cache}>
      <QueryClientProvider client={queries}>
        <App />
      </QueryClientProvider>
    </CacheProvider>
  </StrictMode>,
);
