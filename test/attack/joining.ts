/** Acts by which people come in: invitations, links for passwords, tables, asking to be let in. */
import { eq } from "drizzle-orm";
import { database } from "../../src/server/db/client.ts";
import { session } from "../../src/server/db/schema/index.ts";
import type { Answer } from "../system/doors.ts";
import { type Act, change, type Doing, has, keepsSite, lookThenDo, noted, oversees } from "./act.ts";
import { endlessGuests, newAddress, type World } from "./world.ts";

const until = () => new Date(Date.now() + 30 * 86_400_000).toISOString();
const PASSWORD = "a password of length";

/** An address: somebody's of the house, one that was asked in before, or a new one. */
function addressFor({ world, way }: Doing): string {
  const known = ["jonas@brinehaven.invalid", "mei@brinehaven.invalid"];
  if (way % 3 === 0) return known[way % 2] ?? newAddress();
  return way % 3 === 1 ? (addresses.get(world) ?? newAddress()) : newAddress();
}
/** The address that was last used in a world, so that others come to use it, too. */
const addresses = new WeakMap<World, string>();

async function invite(it: Doing): Promise<Answer> {
  const { stage, world, who, page } = it;
  const email = addressFor(it);
  addresses.set(world, email);
  const before = new Set((await stage.document()).people.map(({ id }) => id));
  const order = { kind: "guest", people: [{ name: "Ana Silva", email }], places: [page], groups: [], level: 1, until: until() };
  const answer = noted(it, await lookThenDo(it, "invitations/look", "invitations", order, { message: "" }));
  if (answer.status === 200) {
    const [person] = JSON.parse(answer.text).people;
    world.invited.push({ person: person.id, link: person.link ?? "", by: who, before, places: [page] });
  }
  return answer;
}

/** Whose session was opened last, where this opened one. */
async function whoCameIn(work: () => Promise<Answer>): Promise<{ answer: Answer; person: string | null }> {
  const sessions = () => database().select({ id: session.id, person: session.userId }).from(session);
  const before = new Set((await sessions()).map(({ id }) => id));
  const answer = await work();
  const opened = (await sessions()).find(({ id }) => !before.has(id));
  // Who acts stays signed in as they are: what was opened here is shut again.
  if (opened) await database().delete(session).where(eq(session.id, opened.id));
  return { answer, person: opened?.person ?? null };
}

/** Takes a link up with a new password, as somebody who is not signed in; whoever comes in must be the one it was made for. */
async function takeUp(it: Doing): Promise<Answer> {
  const { world, stage, way } = it;
  const invited = world.invited.at(-1 - (way % Math.max(1, world.invited.length)));
  if (!invited?.link) return { status: 404, text: "" };
  const known = new Set((await stage.document()).people.map(({ id }) => id));
  const { answer, person } = await whoCameIn(() => stage.open(new URL(invited.link).pathname, { password: PASSWORD }));
  if (person === null) return { status: answer.status >= 500 ? answer.status : 400, text: "" };
  const isProven = invited.by === "ines";
  if (!isProven && invited.before.has(person))
    throw new Error(`A link that ${invited.by} handed on gave an account to ${person}, who was here before.`);
  // What others gave meanwhile makes a new guest of whoever comes in.
  if (!isProven && person !== invited.person && known.has(person))
    throw new Error(`A link made for ${invited.person} gave the account of ${person}.`);
  const { people, places, groups } = await stage.document();
  const joined = groups.filter(({ members }) => members.some((it) => "person" in it && it.person === person)).map(({ id }) => id);
  if (!isProven && joined.length > 0) throw new Error(`${person} came in by hand, and is in ${joined.join(", ")}, where others put them.`);
  const held = places.filter(({ grants }) => grants.some(({ to }) => "person" in to && to.person === person));
  const granted = world.invited.filter((one) => one === invited || one.person === person).flatMap(({ places }) => places);
  const besides = held.filter(({ id }) => !granted.includes(id));
  if (!isProven && besides.length > 0)
    throw new Error(`${person} came in by hand, and has what others gave at ${besides.map(({ id }) => id).join(", ")}.`);
  const kind = people.find(({ id }) => id === person)?.kind;
  if (!isProven && kind !== "guest")
    throw new Error(`${person} came in by hand, and is a ${kind}, which others made of whoever has the address.`);
  return { status: 200, text: "{}" };
}

/** Gives whoever was asked in last what their host did not: a page of the other space, or being a member. */
async function giveMore(it: Doing): Promise<Answer> {
  const { stage, world, way } = it;
  const person = world.invited.at(-1)?.person ?? "nobody";
  const { people } = await stage.document();
  const remove = people.find(({ id }) => id === person);
  if (way % 2 === 0) return change(it, [{ kind: "grant", place: world.elsewhere, put: { to: { person }, abilities: ["read"] } }]);
  return change(it, remove ? [{ kind: "person", person, remove, put: { ...remove, kind: "member" } }] : []);
}

export const JOINING: Record<string, Act> = {
  "ask a guest in": {
    do: invite,
    may: ({ who, page }, document) => has(document, who, page, "admit") || oversees(document, who, page),
  },
  "take an invitation up": { do: takeUp, may: () => null },
  "give who was asked in more": {
    do: giveMore,
    may: (it, document) => (it.way % 2 === 0 && has(document, it.who, it.world.elsewhere, "admit")) || keepsSite(document, it.who),
  },
  "send it again": {
    do: async (it) => {
      const invited = it.world.invited.at(-1);
      await it.pause();
      const answer = await it.stage.ask(it.who, "POST", `invitations/${invited?.person ?? "nobody"}/send`);
      if (answer.status === 200 && invited) it.world.invited.push({ ...invited, by: it.who, link: JSON.parse(answer.text).link ?? "" });
      return answer;
    },
    may: (it, document) => keepsSite(document, it.who) || it.world.invited.at(-1)?.by === it.who,
  },
  "end the invitation": {
    do: async (it) => {
      await it.pause();
      return noted(it, await it.stage.ask(it.who, "POST", `invitations/${it.world.invited.at(-1)?.person ?? "nobody"}/end`));
    },
    may: (it, document) => keepsSite(document, it.who) || it.world.invited.some(({ by }) => by === it.who),
  },
  "move a guest's end": {
    do: (it) => {
      const guest = it.world.invited.at(-1)?.person ?? "dora";
      return lookThenDo(it, `guests/${guest}/end/look`, `guests/${guest}/end`, { until: until() });
    },
    may: (it, document) => keepsSite(document, it.who) || it.world.invited.at(-1)?.by === it.who,
  },
  "bring people in by a table": {
    do: async (it) => {
      const email = addresses.get(it.world) ?? newAddress();
      addresses.set(it.world, email);
      const kind = ["member", "guest", ""][it.way % 3];
      const table = `name,address,kind,until,groups\nAna Silva,${email},${kind},${kind === "guest" ? until() : ""},${it.way % 2 === 0 ? "Pilots" : ""}`;
      const answer = await lookThenDo(it, "people/table/look", "people/table", { table, columns: {} });
      // An empty cell takes an end off, for whoever keeps the site.
      if (answer.status === 200 && it.who === "ines") for (const id of endlessGuests(await it.stage.document())) it.world.endless.add(id);
      return answer;
    },
    may: ({ who }, document) => keepsSite(document, who),
  },
  "link for a new password": {
    do: async (it) => {
      await it.pause();
      return it.stage.ask(it.who, "POST", `people/${it.world.invited.at(-1)?.person ?? it.other}/new-password`);
    },
    may: ({ who }, document) => keepsSite(document, who),
  },
  "ask to be let in": {
    do: async (it) => {
      await it.pause();
      return it.stage.ask(it.who, "POST", "asked", { address: `/read/x/y-${it.page}`, reason: "An attack." });
    },
    // Whoever is signed in may ask about anything, and is told the same whatever is there.
    may: ({ who }) => who !== "public",
  },
  "let in": {
    do: async (it) => {
      const listed = await it.stage.ask(it.who, "GET", `asked?place=${it.page}`);
      if (listed.status !== 200) return listed;
      const [row] = JSON.parse(listed.text).rows;
      return lookThenDo(it, `asked/${row?.id ?? "none"}/look`, `asked/${row?.id ?? "none"}/let-in`, { until: null });
    },
    may: ({ who, page }, document) => has(document, who, page, "admit") || oversees(document, who, page),
  },
};
