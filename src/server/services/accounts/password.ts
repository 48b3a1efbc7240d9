/** A new password for somebody who is locked out, set on the server itself; the ledger says that it was done. */

import { hashOfPassword, replacePassword } from "../../accounts/session.ts";
import { presentInstant } from "../../clock.ts";
import { database, inChange } from "../../db/client.ts";
import { appendEntry } from "../../ledger/append.ts";
import { badRequest } from "../../trouble.ts";
import { checkPassword } from "./resetting.ts";

/** For the first keeper, before there are house rules. */
export const SHORTEST_PASSWORD = 12;

export async function setPassword(email: string, password: string): Promise<{ person: string }> {
  await checkPassword(database(), password);
  const hash = await hashOfPassword(password);
  return inChange(async (tx) => {
    const person = await replacePassword(tx, email, hash);
    if (person === null) throw badRequest(`Nobody here signs in with "${email}".`);
    await appendEntry(tx, { maker: null, act: "setPassword", places: [], detail: { person } }, presentInstant());
    return { person };
  });
}
