/** `npm run routes`: everything the built server answers; what is not in this list is not there. */
import { readDeclared } from "./declared/list.ts";
import { buildIfNeeded } from "./serving.ts";

buildIfNeeded();
const { routes, files } = readDeclared(new URL("../dist/declared.json", import.meta.url));
for (const { path, type } of routes) console.log(`${type.padEnd(8)} ${path}`);
for (const [path, digest] of Object.entries(files)) console.log(`file     ${path}  sha256:${digest}`);
