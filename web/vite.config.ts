import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

const api = `http://127.0.0.1:${process.env.PASSERELLE_PORT ?? "8000"}`;

export default defineConfig({
  plugins: [react()],
  build: { outDir: "../src/passerelle/api/static", emptyOutDir: true, chunkSizeWarningLimit: 1200 },
  server: { proxy: { "/api": api } },
});
