/** Who was asked in to Brinehaven lately, and its passes: some taken up and used, some not. */
import type { Instant } from "../core/access/model/index.ts";
import { inChange } from "../server/db/client.ts";
import { passLinks } from "../server/db/schema/index.ts";
import { sha256 } from "../server/secrets.ts";
import { makeChange } from "../server/services/change/apply.ts";
import { acceptInvitation } from "../server/services/inviting/accepting.ts";
import { invite, lookAtInvitation } from "../server/services/inviting/inviting.ts";
import { lookAtPass, makePass } from "../server/services/passes/passes.ts";

const DAY = 86_400_000;

type InviteBody = Parameters<typeof lookAtInvitation>[1];

async function askIn(maker: string, message: string, order: InviteBody): Promise<string | null> {
  const { preview } = await lookAtInvitation(maker, order);
  const { people } = await invite(maker, { ...order, message, note: "", seen: preview.seen });
  return people[0]?.link?.split("/").at(-1) ?? null;
}

async function makePassFor(maker: string, place: string, name: string, until: string | null): Promise<void> {
  const body = { place, below: false, until };
  const { seen } = await lookAtPass(maker, body);
  // The public reads a patrol route by mistake, and whoever holds a pass is the public too: one more pass breaks that pledge anew.
  await makePass(maker, { ...body, name, note: "", seen, reason: "Crowd watch is looked into already." });
}

export async function loadDoors(now: Instant): Promise<void> {
  const at = (days: number) => new Date(now + days * DAY);
  const guest = (name: string, email: string, place: string, days: number): InviteBody => ({
    kind: "guest",
    people: [{ name, email }],
    places: [place],
    groups: [],
    level: 1,
    until: at(days).toISOString(),
  });
  await inChange(async (tx) => {
    const edits = [
      {
        kind: "house" as const,
        from: { guestsBySpaceKeepers: false, sensitiveWords: [] },
        to: { guestsBySpaceKeepers: true, sensitiveWords: ["white gate", "sluice code"] },
      },
    ];
    await makeChange(tx, { maker: "ines", edits, act: "rules", note: "Keepers know best whom they need." });
    // The links themselves went out long ago.
    await tx.insert(passLinks).values([
      {
        passId: "passlandings",
        hash: sha256(crypto.randomUUID()),
        name: "Ferry crews",
        by: "ines",
        at: at(-40),
        uses: 41,
        usedAt: at(-1),
      },
      {
        passId: "passwater",
        hash: sha256(crypto.randomUUID()),
        name: "Swimming club",
        by: "ines",
        at: at(-40),
        uses: 7,
        usedAt: at(-24),
      },
    ]);
  });
  await makePassFor("ines", "oldnumbers", "Local history society", at(90).toISOString());
  await makePassFor("ines", "oldnumbers", "Model shipbuilders", at(9).toISOString());
  const taken = await askIn(
    "ines",
    "The drawings you asked for are on this page.",
    guest("Tomasz Wilk", "tomasz@seaworks.invalid", "landings", 60),
  );
  if (taken) await acceptInvitation(taken, crypto.randomUUID());
  await askIn("maren", "These are the numbers on the old plans.", guest("Hanne Voss", "hanne@northline.invalid", "oldnumbers", 21));
}
