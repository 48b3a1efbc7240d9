/** What is published, as the sheet calls for it: a page where it stands, or a private draft. */
import { lookAtDraftPublication, lookAtPublication, publish, publishDraft } from "../../contracts/publication.ts";
import { ask } from "../shared/api.ts";
import type { PublicationSource } from "./order.ts";

export const pageSource = ({ id, kind }: { id: string; kind: "page" | "bulletin" }, version: string): PublicationSource => ({
  key: ["page", id],
  kind: "page",
  page: id,
  as: kind,
  version,
  look: (body) => ask(lookAtPublication, { params: { id }, body }),
  publish: (body) => ask(publish, { params: { id }, body }),
});

export const draftSource = (id: string, version: string): PublicationSource => ({
  key: ["draft", id],
  kind: "draft",
  as: "page",
  version,
  look: (body) => ask(lookAtDraftPublication, { params: { id }, body }),
  publish: (body) => ask(publishDraft, { params: { id }, body }),
});
