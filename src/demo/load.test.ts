/** The demo as whoever starts Tesoro today gets it: what all other tests see was made for one and the same day. */
import { expect, it } from "vitest";
import { shifting } from "../../cli/testing/clock.mjs";
import { openTestDatabase } from "../../cli/testing/databases.ts";
import type { Kind } from "../../cli/testing/kinds.ts";
import { inSnapshot } from "../server/db/client.ts";
import { loadDocument } from "../server/db/document.ts";
import { verifyLedger } from "../server/ledger/chain.ts";
import { readDesk } from "../server/services/desk/desk.ts";
import { loadDemo } from "./load.ts";

/** What a database holds, as far as it is the same on every day. */
async function held(kind: Kind, load?: () => Promise<void>) {
  const database = await openTestDatabase(kind);
  try {
    await load?.();
    let desk = await readDesk("ines");
    while (desk.pending) {
      await new Promise((later) => setTimeout(later, 100));
      desk = await readDesk("ines");
    }
    const { breaks, entries } = await inSnapshot(verifyLedger);
    const { places, people, groups } = await inSnapshot((tx) => loadDocument(tx));
    return {
      breaks,
      entries,
      places: places.map(({ id, state }) => `${id} ${state}`).sort(),
      people: people.length,
      groups: groups.length,
      desk: [...new Set(desk.rows.map(({ key }) => key.split(":")[0]))].sort(),
    };
  } finally {
    await database.close();
  }
}

it("holds on the day of the run what it holds on the day of the tests", async () => {
  const then = await held("demo");
  expect(then).toMatchObject({ breaks: [], people: expect.any(Number) });
  const today = await held("schema", async () => {
    shifting(globalThis, 0);
    await loadDemo();
  });
  expect(today).toEqual(then);
}, 240_000);
