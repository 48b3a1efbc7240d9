/** What a fresh machine may lack, and how it is brought there. */
import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";

/** Ends the program with one clear line. */
export function fail(message: string): never {
  console.error(message);
  process.exit(1);
}

/** Installs Debian packages where that is possible; otherwise says exactly what is needed and ends the program. */
export function installDebianPackages(packages: string[], what: string): void {
  const names = packages.join(" ");
  if (process.getuid?.() !== 0 || !existsSync("/usr/bin/apt-get")) {
    fail(`${what} is needed. On Debian: sudo apt-get install ${names}`);
  }
  console.error(`Installing ${what} (${names}) …`);
  const run = (args: string[]) =>
    spawnSync("apt-get", args, { stdio: ["ignore", "ignore", "inherit"], env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" } })
      .status === 0;
  run(["update", "-qq"]);
  if (!run(["install", "-y", "-qq", "--no-install-recommends", ...packages])) fail(`Installing ${names} failed; see above.`);
}
