/** What waits in Brinehaven today besides what follows from its pages: somebody asks to read, a routine has told something, work that stopped. */
import type { Instant } from "../core/access/model/index.ts";
import { inChange } from "../server/db/client.ts";
import { asked, jobItems, jobs } from "../server/db/schema/index.ts";
import { addNotice } from "../server/notices/notices.ts";

const DAY = 86_400_000;

export async function loadWaiting(now: Instant): Promise<void> {
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
    const problem = "Something broke on the server. What was done is done; go on with it, or tell the site keeper.";
    await tx
      .insert(jobs)
      .values({ id: "stoppedlook", kind: "marks", by: "ines", order, state: "stopped", problem, startedAt: at(1), endedAt: at(1) });
    await tx.insert(jobItems).values({ jobId: "stoppedlook", nth: 0, placeId: "leave", state: "waiting", message: null, seq: null });
  });
}
