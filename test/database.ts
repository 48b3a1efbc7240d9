/** A database of its own for a file of tests of services: there before the first of them, gone after the last. */
import { afterAll, beforeAll } from "vitest";
import { openTestDatabase, type TestDatabase } from "../cli/testing/databases.ts";
import type { Kind } from "../cli/testing/kinds.ts";

/** `url` is known once the first hook or test of the file runs. */
export function onDatabase(kind: Kind): { readonly url: string } {
  let database: TestDatabase | undefined;
  beforeAll(async () => {
    database = await openTestDatabase(kind);
  });
  afterAll(() => database?.close());
  return {
    get url() {
      return database?.url ?? "";
    },
  };
}
