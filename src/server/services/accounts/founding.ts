/** The first moment of a site: an empty database gets its site, and its first keeper. */

import { compile } from "../../../core/access/index/index.ts";
import { ABILITIES } from "../../../core/access/model/index.ts";
import { addAccount, hashOfPassword } from "../../accounts/session.ts";
import { presentInstant } from "../../clock.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { emptyDocument, writeDifference } from "../../db/document.ts";
import { writeListing } from "../../db/listing.ts";
import { ledger } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { appendEntry } from "../../ledger/append.ts";
import { badRequest } from "../../trouble.ts";
import { SHORTEST_PASSWORD } from "./password.ts";

/** Whether nothing was ever done here. */
export const isEmpty = async (): Promise<boolean> =>
  (await inSnapshot((tx) => tx.select({ seq: ledger.seq }).from(ledger).limit(1))).length === 0;

/** Founds a site with one keeper who holds the last key. */
export async function foundSite(keeper: { name: string; email: string; password: string }): Promise<void> {
  if (keeper.password.length < SHORTEST_PASSWORD) throw badRequest(`The password needs ${SHORTEST_PASSWORD} characters or more.`);
  if (!/^[^\s@]+@[^\s@]+$/.test(keeper.email)) throw badRequest(`"${keeper.email}" is not a mail address.`);
  const passwordHash = await hashOfPassword(keeper.password);
  const id = newId();
  await inChange(async (tx) => {
    const entry = await appendEntry(tx, { maker: null, act: "found", places: ["site"], note: "The site was founded." }, presentInstant());
    const document = {
      ...emptyDocument(),
      people: [{ id, name: keeper.name, kind: "member" as const, status: "active" as const }],
      places: [
        {
          id: "site",
          kind: "site" as const,
          title: "The site",
          state: "live" as const,
          stance: "follow" as const,
          tags: [],
          fences: [],
          grants: [{ to: { person: id }, abilities: [...ABILITIES] }],
        },
      ],
    };
    await writeDifference(tx, emptyDocument(), document, entry.seq, null);
    await writeListing(tx, null, compile(document), entry.at);
    await addAccount(tx, { id, name: keeper.name, email: keeper.email, passwordHash });
  });
}
