/** The outbox: mail as it was or would be sent, for site keepers. */
import { count, desc, eq, inArray } from "drizzle-orm";
import type { Outbox } from "../../../contracts/house.ts";
import { need, readAccess, subjectFor } from "../../access/current.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { mails, notices } from "../../db/schema/index.ts";
import { emlOf, sendsMail } from "../../notices/mail.ts";
import { notThere } from "../../trouble.ts";

const MOST = 200;

async function mayKeep(tx: Tx, asker: string): Promise<void> {
  const access = await readAccess(tx);
  need(access, subjectFor(access, asker), "keepHouse");
}

export const readOutbox = (asker: string): Promise<Outbox> =>
  inSnapshot(async (tx) => {
    await mayKeep(tx, asker);
    const rows = await tx.select().from(mails).orderBy(desc(mails.at), desc(mails.id)).limit(MOST);
    const [all] = await tx.select({ n: count() }).from(mails);
    const states = await tx
      .select({ mail: notices.mail, n: count() })
      .from(notices)
      .where(inArray(notices.mail, ["waiting", "failed"]))
      .groupBy(notices.mail);
    const of = (mail: string) => states.find((it) => it.mail === mail)?.n ?? 0;
    return {
      sends: sendsMail(),
      mails: rows.map(({ id, to, subject, body, at, state }) => ({ id, to, subject, body, at: at.toISOString(), state })),
      more: (all?.n ?? 0) - rows.length,
      waiting: of("waiting"),
      failed: of("failed"),
    };
  });

/** One mail as a file. */
export async function readMail(asker: string, id: string): Promise<Response> {
  const row = await inSnapshot(async (tx) => {
    await mayKeep(tx, asker);
    const [found] = await tx.select().from(mails).where(eq(mails.id, id));
    return found;
  });
  if (!row) throw notThere();
  const eml = await emlOf({ to: row.to, subject: row.subject, text: row.body }, row.at);
  return new Response(new Uint8Array(eml), {
    headers: {
      "content-type": "message/rfc822",
      "content-disposition": `attachment; filename="mail-${row.id}.eml"`,
      "cache-control": "no-store",
    },
  });
}
