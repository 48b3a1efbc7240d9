/** What a page that was started holds besides its place: its first version, its slot, its links, its words in lists. */
import type { Seq } from "../../../core/access/model/index.ts";
import type { PageBody } from "../../../core/content/index.ts";
import type { Tx } from "../../db/client.ts";
import { deriveListing } from "../../db/deriving.ts";
import { writeTitle } from "../../db/document.ts";
import { writeWords } from "../../db/listing.ts";
import { pages, slots, versions } from "../../db/schema/index.ts";
import { slotAtEnd } from "../change/order.ts";
import { keepWorkingLinks } from "../links/keepLinks.ts";

interface Started {
  id: string;
  parent: string;
  as: "page" | "bulletin";
  maker: string;
  title: string;
  body: PageBody;
  slot?: string | undefined;
  /** Versions it had before it stood in a space, the oldest first; absent: it begins with this one. */
  history?: readonly { minor: number; title: string; body: PageBody; authorId: string; at: Date; note: string }[];
}

export async function writeStarted(tx: Tx, { seq, at }: { seq: Seq; at: Date }, it: Started): Promise<void> {
  const { id, parent, as, maker, body, slot } = it;
  const title = it.title.trim();
  await tx.insert(pages).values({ placeId: id, startedAt: at, changedAt: at });
  if (as === "page") await tx.insert(slots).values({ placeId: id, slot: slot ?? (await slotAtEnd(tx, parent)), fromSeq: seq });
  const history = it.history ?? [{ minor: 1, title, body, authorId: maker, at, note: "" }];
  await tx.insert(versions).values(history.map((version) => ({ ...version, placeId: id, major: 0, seq })));
  await keepWorkingLinks(tx, id, body);
  await writeTitle(tx, id, title, seq);
  await writeWords(tx, id, { title, body }, at);
  await deriveListing(tx, [id]);
}
