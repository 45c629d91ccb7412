import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react()],
  build: {
    outDir: "../src/hakari/web/static",
    emptyOutDir: true,
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
