import "@fontsource/atkinson-hyperlegible-mono/400.css";
import "@fontsource/atkinson-hyperlegible-mono/600.css";
import "@fontsource/atkinson-hyperlegible-next/400.css";
import "@fontsource/atkinson-hyperlegible-next/600.css";
import "./app/print.css";
import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";

import { App } from "./app/App";
import { system } from "./app/theme";
import { SettingsProvider } from "./shared/settings";

const client = new QueryClient({ defaultOptions: { queries: { staleTime: 2_000, retry: 1 } } });
const root = document.getElementById("root");
if (!root) throw new Error("index.html has no root");

createRoot(root).render(
  <StrictMode>
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <SettingsProvider>
          <BrowserRouter>
            <App />
          </BrowserRouter>
        </SettingsProvider>
      </QueryClientProvider>
    </ChakraProvider>
  </StrictMode>,
);
