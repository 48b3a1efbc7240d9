// Runs before anything is installed, so it uses nothing but Node.js: brings the packages up to date, then hands over to
// the TypeScript command named on the command line.
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";

const root = fileURLToPath(new URL("..", import.meta.url));
const [major, minor] = process.versions.node.split(".").map(Number);
if (major < 20 || (major === 20 && minor < 19)) {
  console.error(`Tesoro needs Node.js 20.19 or newer; this is ${process.versions.node}.`);
  process.exit(2);
}

function installPackages() {
  const stamp = `${root}node_modules/.tesoro-lock`;
  const wanted = createHash("sha256")
    .update(readFileSync(`${root}package-lock.json`))
    .digest("hex");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted) return;
  console.error("Installing packages …");
  // Standard output stays free for the command that follows: some of them print data.
  const npm = spawnSync("npm", ["ci", "--include=dev", "--loglevel=error"], { cwd: root, stdio: ["ignore", 2, 2] });
  if (npm.status !== 0) {
    console.error("Installing the packages failed; see above. Nothing else was done.");
    process.exit(1);
  }
  writeFileSync(stamp, wanted);
}

installPackages();
const [command, ...rest] = process.argv.slice(2);
const { register } = await import("tsx/esm/api");
register();
process.argv = [process.argv[0], `${root}cli/${command}.ts`, ...rest];
await import(new URL(`./${command}.ts`, import.meta.url));
