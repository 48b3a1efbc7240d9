/** Access asked for: answered alike whatever is there, told to those who may admit, granted with an end, declined without a word. */
import { eq } from "drizzle-orm";
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import { MOST_ASKED } from "../../../contracts/asked.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { database, inChange } from "../../db/client.ts";
import { asked, mails, notices } from "../../db/schema/index.ts";
import { makeChange } from "../change/apply.ts";
import { readReaderPage } from "../reading/reading.ts";
import { decline, readAsked } from "./asked.ts";
import { askForAccess, forgetAsked, readOwnAsked, tellDeciders } from "./asking.ts";
import { letIn, lookAtLettingIn } from "./lettingIn.ts";

onDatabase("demo");
// What waits in the demo is not what is tried here.
beforeAll(() => database().delete(asked));

const DAY = 86_400_000;
const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: "ines", edits, act: "rules", note: "" }));
const asks = (who: string, address: string, reason = "For the inspection.") => askForAccess(who, { address, reason });
const reads = (who: string, id: string) => status(readReaderPage({ me: who, viewpoint: null }, "x", id));
const waiting = async (who: string) => (await readAsked(who, {})).rows.map((row) => [row.who.id, row.place.id, row.declined !== null]);
const days = (after: number) => new Date(Date.now() + after * DAY).toISOString();

it("is answered alike for what is hidden and what is not there, and reaches those alone who may admit there", async () => {
  const hidden = await asks("mei", "/read/port-security/patrol-routes-patrols");
  const none = await asks("mei", "/read/port-security/patrol-routes-nowhere?x=1#y");
  await asks("mei", "/read/a-space-that-is-not-there");
  await asks("mei", "/read/port-security");
  expect(Object.keys(hidden)).toEqual(Object.keys(none));
  expect(Math.abs(Date.parse(hidden.lapses) - Date.parse(none.lapses))).toBeLessThan(5_000);
  expect((await readOwnAsked("mei")).map(({ address }) => address)).toHaveLength(4);
  expect(await waiting("viktor")).toEqual([
    ["mei", "portsecurity", false],
    ["mei", "patrols", false],
  ]);
  expect((await waiting("ines")).length).toBe(2);
  for (const other of ["maren", "mei", "lena"]) expect(await waiting(other)).toEqual([]);
  for (const address of ["/grid", "https://there.invalid/read/x", "/read/", "", "/write/patrols"])
    expect(await status(asks("mei", address))).toBe(400);
  const asking = async (who: string) => (await readReaderPage({ me: who, viewpoint: null }, "x", "patrols")).asking;
  expect([await asking("viktor"), await asking("amara")]).toEqual([1, 0]);
  const [row] = (await readAsked("viktor", { place: "patrols" })).rows;
  const id = row?.id ?? "";
  const tries = [
    (it: string) => told(lookAtLettingIn("maren", it, { until: null })),
    (it: string) => told(letIn("maren", it, { until: null, note: "", seen: "" })),
    (it: string) => told(decline("mei", it, { word: "" })),
  ];
  for (const attempt of tries) expect(await attempt(id)).toBe(await attempt("none"));
  await tellDeciders("mei", "patrols");
  await tellDeciders("mei", "nowhere");
  const said = await database().select().from(notices).where(eq(notices.kind, "accessAsked"));
  expect(said.map(({ personId, about }) => [personId, about.place])).toContainEqual(["viktor", "patrols"]);
  expect(said.every(({ about }) => about.place !== "nowhere")).toBe(true);
});

it("is granted by the best change, until a date, with its ripple seen; the page opens, and they are told", async () => {
  const [row] = (await readAsked("viktor", { place: "patrols" })).rows;
  const id = row?.id ?? "";
  const until = days(3);
  expect(await status(lookAtLettingIn("viktor", id, { until: days(-1) }))).toBe(400);
  const plan = await lookAtLettingIn("viktor", id, { until });
  expect([plan.endless, plan.sentences.join()]).toEqual([false, expect.stringContaining("Mei")]);
  expect(await status(letIn("viktor", id, { until, note: "", seen: "stale" }))).toBe(409);
  expect(await reads("mei", "patrols")).toBe(404);
  const seen = plan.preview?.seen ?? "";
  const both = await Promise.allSettled([1, 2].map(() => letIn("viktor", id, { until, note: "Until Friday.", seen })));
  expect(both.map((it) => it.status).sort()).toEqual(["fulfilled", "rejected"]);
  expect([await reads("mei", "patrols"), await waiting("viktor")]).toEqual([200, [["mei", "portsecurity", false]]]);
  for (let i = 0; i < 50 && (await database().select().from(mails)).every(({ subject }) => !subject.includes("is open to you")); i++)
    await new Promise((later) => setTimeout(later, 20));
  const [mail] = (await database().select().from(mails)).filter(({ subject }) => subject.includes("is open to you"));
  expect(mail?.body).toContain("/read/port-security/patrol-routes-patrols");
  expect((await readOwnAsked("mei")).length).toBe(4);
});

it("is declined with a word of which whoever asked learns nothing, asking again changes nothing, and all of it lapses", async () => {
  const before = await readOwnAsked("mei");
  const [row] = (await readAsked("viktor", {})).rows;
  await decline("viktor", row?.id ?? "", { word: "Not before the audit." });
  expect(await status(decline("ines", row?.id ?? "", { word: "" }))).toBe(409);
  await asks("mei", "/read/port-security", "Please!");
  expect(await readOwnAsked("mei")).toEqual(before);
  expect((await readAsked("ines", {})).rows).toMatchObject([
    { reason: "For the inspection.", declined: { word: "Not before the audit." } },
  ]);
  // Who declined may think again.
  expect((await lookAtLettingIn("viktor", row?.id ?? "", { until: null })).preview).not.toBeNull();
  await database()
    .update(asked)
    .set({ at: new Date(Date.now() - 31 * DAY) });
  expect([
    await readOwnAsked("mei"),
    await waiting("viktor"),
    await status(lookAtLettingIn("viktor", row?.id ?? "", { until: null })),
  ]).toEqual([[], [], 404]);
  await asks("mei", "/read/port-security", "Anew.");
  expect(await waiting("viktor")).toEqual([["mei", "portsecurity", false]]);
  await forgetAsked();
  expect(await database().select().from(asked)).toHaveLength(1);
});

it("is bounded for each person; a guest's reaches whoever brought them in first; nothing waits of those who read it by now, or left", async () => {
  for (let i = 1; i < MOST_ASKED; i++) await asks("mei", `/read/x/y-none${i}`);
  expect(await status(asks("mei", "/read/x/y-onemore"))).toBe(400);
  expect(await status(asks("mei", "/read/x/y-none1"))).toBe(200);
  await asks("dora", "/read/quay-operations/cranes-cranes");
  await tellDeciders("dora", "cranes");
  expect((await readAsked("maren", {})).rows).toMatchObject([{ who: { id: "dora", kind: "guest" } }]);
  const grant: Edit = { kind: "grant", place: "cranes", put: { to: { person: "dora" }, abilities: ["read"] } };
  await change(grant);
  expect(await waiting("maren")).toEqual([]);
  await change({ kind: "grant", place: "cranes", remove: grant.put as never });
  expect(await waiting("maren")).toEqual([["dora", "cranes", false]]);
  const dora = { id: "dora", name: "Dóra Szabó", kind: "guest" as const, status: "active" as const };
  await change({ kind: "person", person: "dora", remove: dora, put: { ...dora, status: "suspended" } });
  expect(await waiting("maren")).toEqual([]);
});
