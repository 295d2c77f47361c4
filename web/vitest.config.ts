import { mergeConfig } from "vitest/config";
import vite from "./vite.config";

export default mergeConfig(vite, { test: { include: ["src/**/*.test.ts"], environment: "node" } });
