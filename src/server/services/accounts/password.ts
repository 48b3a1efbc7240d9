/** A new password for somebody who is locked out, set on the server itself; the ledger says that it was done. */

import { hashOfPassword, replacePassword } from "../../accounts/session.ts";
import { presentInstant } from "../../clock.ts";
import { inChange } from "../../db/client.ts";
import { appendEntry } from "../../ledger/append.ts";
import { badRequest } from "../../trouble.ts";

export const SHORTEST_PASSWORD = 12;

export async function setPassword(email: string, password: string): Promise<{ person: string }> {
  if (password.length < SHORTEST_PASSWORD) throw badRequest(`The password needs ${SHORTEST_PASSWORD} characters or more.`);
  const hash = await hashOfPassword(password);
  return inChange(async (tx) => {
    const person = await replacePassword(tx, email, hash);
    if (person === null) throw badRequest(`Nobody here signs in with "${email}".`);
    await appendEntry(tx, { maker: null, act: "setPassword", places: [], detail: { person } }, presentInstant());
    return { person };
  });
}
