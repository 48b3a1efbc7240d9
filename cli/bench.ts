/** `npm run bench`: installs the libraries Tesoro is measured beside, if they are missing, and measures. */
import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";
import { fileURLToPath } from "node:url";

const folder = fileURLToPath(new URL("../bench/", import.meta.url));

if (!existsSync(`${folder}node_modules/.package-lock.json`)) {
  console.error("Installing the libraries to measure beside …");
  const npm = spawnSync("npm", ["ci", "--loglevel=error"], { cwd: folder, stdio: ["ignore", 2, 2] });
  if (npm.status !== 0) {
    console.error("Installing them failed; see above. Nothing was measured.");
    process.exit(1);
  }
}
// A process of its own: measuring memory needs a flag that can only be given at the start.
const run = spawnSync(process.execPath, ["--expose-gc", "--import", "tsx", `${folder}run.ts`, ...process.argv.slice(2)], {
  cwd: fileURLToPath(new URL("..", import.meta.url)),
  stdio: "inherit",
});
process.exitCode = run.status ?? 1;
