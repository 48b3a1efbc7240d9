/** The list of what the server answers, as it was written when the application was built (`declaring.ts`). */
import { readFileSync } from "node:fs";

export interface DeclaredList {
  routes: { path: string; regex: string; type: string }[];
  /** SHA-256 of each file, by its path as it stands in addresses. */
  files: Record<string, string>;
}

export const readDeclared = (file: URL): DeclaredList => JSON.parse(readFileSync(file, "utf8")) as DeclaredList;

/** Whether a path, as it stands in an address, is of a route or a file of the list. Slashes too many count for none. */
export function declares({ routes, files }: DeclaredList): (path: string) => boolean {
  const patterns = routes.map(({ regex }) => new RegExp(regex));
  return (path) => {
    const plain = decodeURI(path)
      .replace(/\/{2,}/g, "/")
      .replace(/(?<=.)\/$/, "");
    return Object.hasOwn(files, plain) || patterns.some((it) => it.test(plain));
  };
}
