/** The server killed while changes are made: either all of a change is there, or nothing of it. */
import { afterAll, beforeAll, expect, it } from "vitest";
import { type DemoSite, openDemoSite } from "../../cli/demoSite.ts";
import { closeDatabase, inSnapshot } from "../../src/server/db/client.ts";
import { loadDocument } from "../../src/server/db/document.ts";
import { checkLedger, readLedger } from "../../src/server/services/ledger/ledgerView.ts";
import { signInDemo } from "./signIn.ts";

let site: DemoSite;
beforeAll(async () => {
  site = await openDemoSite();
});
afterAll(async () => {
  await closeDatabase();
  await site?.close();
});

const GROUPS = ["pilots", "dhm", "traffic", "press", "safety", "security", "works", "environment", "staffoffice", "cruise"];
const PLACES = ["cranes", "mooring", "weighbridge", "timberyard"];

it("keeps ledger and rules together after kill -9 under load", async () => {
  const cookie = await signInDemo(site.base, "maren");
  const post = async (path: string, body: unknown) => {
    const answer = await fetch(`${site.base}/api/${path}`, {
      method: "POST",
      headers: { cookie, origin: site.base, "content-type": "application/json" },
      body: JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(String(answer.status));
    return answer.json();
  };
  let applied = 0;
  const change = async (place: string, group: string) => {
    const edits = [{ kind: "grant", place, put: { to: { group }, abilities: ["read", "discuss", "revise"] } }];
    const { seen } = await post("preview", { edits, columns: [] });
    await post("changes", { edits, note: `${place} ${group}`, seen });
    applied++;
    if (applied === 6) process.kill(site.pid, "SIGKILL");
  };
  await Promise.allSettled(
    PLACES.map(async (place) => {
      for (const group of GROUPS) await change(place, group);
    }),
  );
  expect(applied).toBeGreaterThanOrEqual(6);
  expect(applied).toBeLessThan(PLACES.length * GROUPS.length);

  expect(await checkLedger("ines")).toMatchObject({ sound: true });
  const made = (await readLedger("ines", { who: "maren", act: "rules" })).lines.filter((line) =>
    GROUPS.some((group) => line.note.endsWith(` ${group}`)),
  );
  // What was answered is there; of what was not, each is there whole or not at all.
  expect(made.length).toBeGreaterThanOrEqual(applied);
  const document = await inSnapshot((tx) => loadDocument(tx));
  const standing = PLACES.flatMap((id) =>
    (document.places.find((place) => place.id === id)?.grants ?? []).flatMap(({ to }) => ("group" in to ? [`${id} ${to.group}`] : [])),
  );
  expect(new Set(made.map((line) => line.note))).toEqual(new Set(standing));
});
