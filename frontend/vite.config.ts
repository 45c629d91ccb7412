import react from "@vitejs/plugin-react";
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { defineConfig, type Plugin } from "vite";

/** Writes a compressed copy of each script and style, which the server sends to browsers that accept it. */
function packed(folder: string): Plugin {
  return {
    name: "packed",
    apply: "build",
    closeBundle() {
      for (const name of readdirSync(join(folder, "assets"))) {
        if (!/\.(js|css|svg)$/.test(name)) continue;
        const path = join(folder, "assets", name);
        writeFileSync(`${path}.gz`, gzipSync(readFileSync(path), { level: 9 }));
      }
    },
  };
}

export default defineConfig({
  plugins: [react(), packed("../src/hakari/web/static")],
  build: {
    outDir: "../src/hakari/web/static",
    emptyOutDir: true,
    // What the service worker keeps.
    manifest: "shell.json",
    chunkSizeWarningLimit: 1200,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: "react", test: /node_modules[\\/](react|react-dom|scheduler|react-router|react-router-dom)[\\/]/ },
            { name: "antd", test: /node_modules[\\/](antd|@ant-design|rc-|@rc-component)/ },
          ],
        },
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8720" } },
});
