/** What one orders on the publish sheet, and how it travels. */
import type { LookAtPublicationBody, Publication, PublicationSheet, PublishBody, Published } from "../../contracts/publication.ts";
import type { Level } from "../../core/access/model/index.ts";
import type { PrincipalChoice } from "../shared/people.ts";

export interface Wished {
  who: PrincipalChoice;
  level: Level;
}

export interface Order {
  what: Publication;
  /** Empty: where it stands; of a private draft: nothing is chosen yet. */
  to: string;
  as: "page" | "bulletin";
  keep: string[];
  wishes: Wished[];
  owner: string | null;
  tags: string[] | null;
  readiness: string | null;
  /** Empty: not chosen. */
  at: string;
  zone: string;
  archive: string;
}

/** What is published: looked at, and done. */
export interface PublicationSource {
  /** What tells it from others in what is kept of answers. */
  key: readonly string[];
  kind: "page" | "draft";
  /** The page itself, which cannot go below itself. */
  page?: string;
  /** Bulletins stand in a space. */
  as: "page" | "bulletin";
  version: string;
  look(body: LookAtPublicationBody): Promise<PublicationSheet>;
  publish(body: PublishBody): Promise<Published>;
}

export const firstOrder = (source: PublicationSource, zone: string): Order => ({
  what: "live",
  to: "",
  as: source.as,
  keep: [],
  wishes: [],
  owner: null,
  tags: null,
  readiness: null,
  at: "",
  zone,
  archive: "",
});

export const bodyOf = (order: Order, { version, kind }: PublicationSource): LookAtPublicationBody => ({
  what: order.what,
  version,
  keep: order.keep,
  wishes: order.wishes.map(({ who, level }) => ({ principal: who.principal, level })),
  ...(order.to === "" ? {} : { to: order.to }),
  ...(kind === "draft" ? { as: order.as } : {}),
  ...(order.owner === null ? {} : { owner: order.owner }),
  ...(order.tags === null ? {} : { tags: order.tags }),
  ...(order.readiness === null ? {} : { readiness: order.readiness }),
  ...(order.what === "schedule" && order.at !== "" ? { at: { at: order.at, zone: order.zone } } : {}),
  ...(order.archive === "" ? {} : { archive: { at: order.archive, zone: order.zone } }),
});

/** What is still to be chosen before it can be looked at; empty where nothing is. */
export const missing = (order: Order, { kind }: PublicationSource): string =>
  kind === "draft" && order.to === ""
    ? "Choose where it is to stand."
    : order.what === "schedule" && order.at === ""
      ? "Choose when it goes live."
      : "";

export const ACT_WORDS: Readonly<Record<Publication, string>> = {
  live: "Publish now",
  schedule: "Publish then",
  place: "Place it there",
  submit: "Place it and give it in",
};
