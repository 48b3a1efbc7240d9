/**
 * What waits in Brinehaven today besides what follows from its pages: somebody asks to read, a version is given in, a reader has
 * said that something is wrong, a routine has told something, work that stopped, a time that could not be kept.
 */
import type { Instant } from "../core/access/model/index.ts";
import { inChange } from "../server/db/client.ts";
import { asked, jobItems, jobs, schedules } from "../server/db/schema/index.ts";
import { addNotice } from "../server/notices/notices.ts";
import { answerApproval } from "../server/services/approval/answering.ts";
import { makeChange } from "../server/services/change/apply.ts";
import { raiseFlag } from "../server/services/review/settling.ts";
import { readWorking, saveVersion } from "../server/services/writing/writing.ts";
import { spaceSettings } from "./reviews.ts";
import { grant, group } from "./site.ts";

const DAY = 86_400_000;

/** What is published about the cruise season is approved first; somebody waits for it. */
async function giveIn(): Promise<void> {
  const remove = spaceSettings("cruise2027");
  const edits = [{ kind: "settings" as const, place: "cruise2027", remove, put: { ...remove, approval: true } }];
  await inChange((tx) => makeChange(tx, { maker: "noor", edits, act: "rules", note: "Shipping lines read every word of it." }));
  const { title, body, version: base } = await readWorking("emeka", "doubledays");
  const said = { type: "paragraph" as const, content: [{ type: "text" as const, text: "On 23 August the market stays open until ten." }] };
  const order = { title, body: { ...body, content: [...body.content, said] }, base, note: "The market has asked for it." };
  const { version } = await saveVersion("emeka", "doubledays", order);
  await answerApproval("emeka", "doubledays", { act: "submit", version, note: "Only the last line is new." });
}

/** Somebody meant the best, and put an end to what a pledge needs: in twelve days it breaks by itself. */
async function endBeforeItsTime(until: string): Promise<void> {
  const remove = grant(group("dhm"), 1);
  const edits = [{ kind: "grant" as const, place: "inquiries", remove, put: { ...remove, until } }];
  await inChange((tx) =>
    makeChange(tx, { maker: "ruth", edits, act: "rules", note: "To be looked at again when the winter roster stands." }),
  );
}

export async function loadWaiting(now: Instant): Promise<void> {
  await giveIn();
  await endBeforeItsTime(new Date(now + 12 * DAY).toISOString());
  const quote = "We load after 22:00 on at most forty nights a year.";
  await raiseFlag(null, { places: ["residents"], kind: "doubtful", note: "We counted fifty-three last year.", quote });
  const at = (daysAgo: number) => new Date(now - daysAgo * DAY);
  await inChange(async (tx) => {
    await tx.insert(asked).values({
      id: "askskippers",
      personId: "chloe",
      address: "/read/port-security/facility-security-plan-plan",
      placeId: "plan",
      reason: "I write the newcomers' week and want to say where the gates are.",
      at: at(2),
    });
    await addNotice(tx, {
      kind: "routine",
      personId: "ines",
      about: { routine: "forgotten", name: "Drafts forgotten", note: "Nobody wrote on this draft for 90 days.", pages: "oldcanteen" },
      at: at(1),
    });
    const order = {
      many: { act: "tag" as const, add: ["working-life"] },
      shown: { places: [], entries: [] },
      note: "Found together from now on.",
    };
    await tx.insert(schedules).values({
      placeId: "waterships",
      what: "archive",
      below: "along",
      at: at(1),
      zone: "Europe/Lisbon",
      by: "leif",
      helpersKept: false,
      problem: "Whoever scheduled this may not do it any more.",
    });
    const problem = "Something broke on the server. What was done is done; go on with it, or tell the site keeper.";
    await tx
      .insert(jobs)
      .values({ id: "stoppedlook", kind: "marks", by: "ines", order, state: "stopped", problem, startedAt: at(1), endedAt: at(1) });
    await tx.insert(jobItems).values({ jobId: "stoppedlook", nth: 0, placeId: "leave", state: "waiting", message: null, seq: null });
  });
}
