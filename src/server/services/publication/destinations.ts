/** Where a page may be published, as a tree: who would read it in each place, and why it may not be put there. */
import { eq } from "drizzle-orm";
import type { Destination, Destinations, DestinationsQuery } from "../../../contracts/publication.ts";
import { givenSet } from "../../../core/access/decide/index.ts";
import { below, type CompiledPlace, type CompiledSubject, siteOf, spaceIdOf } from "../../../core/access/index/index.ts";
import { PUBLISH } from "../../../core/access/model/index.ts";
import { readersThere } from "../../../core/lifecycle/index.ts";
import { type Access, mayNot, maySee, readAccess, seenPlace, standing, subjectFor } from "../../access/current.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { spaces } from "../../db/schema/index.ts";
import { badRequest } from "../../trouble.ts";
import { arrangement } from "../grid/tree.ts";

/** So many places come at once. */
const AT_ONCE = 100;

interface Asked {
  access: Access;
  me: CompiledSubject;
  /** The page that is to go somewhere, and what is below it. */
  moving: ReadonlySet<string>;
  as: "page" | "bulletin";
}

const stands = ({ place: { state } }: CompiledPlace): boolean => state !== "archived" && state !== "binned";

/** What stands directly in a place and may be known of; what is hidden hides what is below it here. */
const shows =
  ({ access, me, moving, as }: Asked) =>
  (child: CompiledPlace | undefined): child is CompiledPlace =>
    child !== undefined &&
    (child.place.kind === "space" || (child.place.kind === "page" && as === "page")) &&
    stands(child) &&
    !moving.has(child.place.id) &&
    maySee(access, me, child);

function offOf({ access, me }: Asked, place: CompiledPlace): Pick<Destination, "off" | "onlyDraft"> {
  const there = standing(access, me, place).set;
  const off = mayNot(access, me, "start", place, { there }) ?? "";
  if (off !== "") return { off, onlyDraft: "" };
  // Whoever owns a draft publishes it with `publish` where it will stand.
  const publishes = (givenSet(access.index, me, place, access.at) & PUBLISH) !== 0;
  return { off, onlyDraft: publishes ? "" : "You may place it here as a draft, and not publish it: that needs Publisher." };
}

async function askingSpaces(tx: Tx): Promise<Set<string>> {
  const rows = await tx.select({ id: spaces.placeId }).from(spaces).where(eq(spaces.approval, true));
  return new Set(rows.map(({ id }) => id));
}

/** Places to publish in, in the order readers find them, a hundred at a time. */
export const listDestinations = (asker: string, { in: id, page, as = "page", after }: DestinationsQuery): Promise<Destinations> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const { index, at } = access;
    const root = id === undefined ? siteOf(index) : seenPlace(access, me, id);
    const moved = page === undefined ? undefined : seenPlace(access, me, page);
    const asked: Asked = { access, me, as, moving: new Set(moved ? below(index, moved).map(({ place }) => place.id) : []) };
    const isShown = shows(asked);
    const childrenOf = (place: CompiledPlace) => place.children.map((number) => index.places[number]);
    const found = childrenOf(root).filter(isShown);
    const all = found.sort(await arrangement(tx, access, found, false));
    const start = after === undefined ? 0 : all.findIndex(({ place }) => place.id === after) + 1;
    if (after !== undefined && start === 0) throw badRequest("This list has changed: open it anew.");
    const shown = all.slice(start, start + AT_ONCE);
    const asks = await askingSpaces(tx);
    return {
      places: shown.map((place): Destination => {
        const off = offOf(asked, place);
        return {
          id: place.place.id,
          title: place.place.title ?? "",
          kind: place.place.kind as "space" | "page",
          hasMore: childrenOf(place).some(isShown),
          // Numbers for those who may put something there; for others who reads what is not theirs to know.
          readers: off.off === "" ? readersThere(index, place.number, at) : null,
          ...off,
          approval: asks.has(spaceIdOf(index, place)),
        };
      }),
      next: all.length > start + AT_ONCE ? (shown.at(-1)?.place.id ?? null) : null,
    };
  });
