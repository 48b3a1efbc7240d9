/** Helpers on a private draft: let in by name to read, comment or write; changed; let out again. */
import { and, eq } from "drizzle-orm";
import { type HelperBody, MOST_HELPERS } from "../../../contracts/workbench.ts";
import { isActive, subjectOf } from "../../../core/access/index/index.ts";
import { DISCUSS, maskOf, READ, RETIRE } from "../../../core/access/model/index.ts";
import { HELPER_LEVELS } from "../../../core/access/workbench/index.ts";
import { benchHelpers } from "../../db/schema/index.ts";
import { badRequest } from "../../trouble.ts";
import { onBench, openDraft } from "./opening.ts";

/** Lets somebody in, or changes what they may do, or lets them out. Their unsaved words stay theirs, kept for when they come back. */
export const letHelperIn = (owner: string, id: string, { person, level }: HelperBody): Promise<Record<string, never>> =>
  onBench(async (tx) => {
    const { access, helpers } = await openDraft(tx, owner, id, RETIRE, true);
    const theirs = and(eq(benchHelpers.draftId, id), eq(benchHelpers.personId, person));
    if (level === "none") {
      if (!helpers.some((it) => it.personId === person)) throw badRequest("They are not let into this draft.");
      await tx.delete(benchHelpers).where(theirs);
      return {};
    }
    if (person === owner) throw badRequest("It is your own draft.");
    const subject = subjectOf(access.index, { person });
    if (!subject?.person || !isActive(subject, access.at)) throw badRequest("Nobody of this name is here to be let in.");
    const abilities = HELPER_LEVELS.find((it) => it.level === level)?.abilities ?? READ;
    const ceiling = maskOf(access.index.document.ceilings.guests ?? []);
    if (subject.class === "guests" && abilities & ~ceiling)
      throw badRequest(
        `The ceiling for guests does not let them ${ceiling & READ ? (abilities & DISCUSS & ~ceiling ? "comment" : "write") : "read"}: choose less.`,
      );
    if (helpers.length >= MOST_HELPERS && !helpers.some((it) => it.personId === person))
      throw badRequest(`At most ${MOST_HELPERS} people are let into one draft.`);
    const row = { draftId: id, personId: person, abilities, since: new Date(access.at) };
    await tx
      .insert(benchHelpers)
      .values(row)
      .onConflictDoUpdate({ target: [benchHelpers.draftId, benchHelpers.personId], set: { abilities } });
    return {};
  });
