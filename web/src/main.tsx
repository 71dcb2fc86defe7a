import "@fontsource/atkinson-hyperlegible-mono/400.css";
import "@fontsource/atkinson-hyperlegible-mono/600.css";
import "@fontsource/atkinson-hyperlegible-next/400.css";
import "@fontsource/atkinson-hyperlegible-next/600.css";
import "./app/print.css";
import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";

import { Root } from "./app/Root";
import { system } from "./app/theme";
import { isBusy, worthAnotherTry } from "./shared/api";
import { SettingsProvider } from "./shared/settings";

/** Asked again by itself for a while: nothing is changed by a question. */
const again = (count: number, error: unknown) => worthAnotherTry(error) && error.problem.retry_s === 1 && count < 3;
/** A change is only made again where the api says that nothing was changed; no answer at all does not say so. */
const busy = (count: number, error: unknown) => again(count, error) && isBusy(error);
const client = new QueryClient({
  defaultOptions: {
    queries: { staleTime: 2_000, retry: again },
    mutations: { retry: busy, retryDelay: 1_000 },
  },
});
const root = document.getElementById("root");
if (!root) throw new Error("index.html has no root");

createRoot(root).render(
  <StrictMode>
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <SettingsProvider>
          <Root />
        </SettingsProvider>
      </QueryClientProvider>
    </ChakraProvider>
  </StrictMode>,
);
