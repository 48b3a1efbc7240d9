/**
 * Viewpoints: somebody's eyes, as one text wherever they are asked for (columns of the grid, *why*, walks): `public`,
 * `guests`, `members`, `group:ID`, `person:ID`, `pass:ID`; and imagined people in groups, `member+ID+ID` and `guest+ID`.
 */
import type { Principal, Subject } from "./document.ts";

export type Viewpoint =
  | { kind: "public" }
  | { kind: "guests" }
  | { kind: "members" }
  | { kind: "group"; id: string }
  | { kind: "person"; id: string }
  | { kind: "pass"; id: string }
  | { kind: "imagined"; of: "member" | "guest"; groups: string[] };

/** What such a text looks like; ids as everywhere. */
export const VIEWPOINT = /^(public|guests|members|(group|person|pass):[\w-]{1,60}|(member|guest)(\+[\w-]{1,60}){1,8})$/;

/** Reads a viewpoint; null for a text that is none. */
export function readViewpoint(text: string): Viewpoint | null {
  if (!VIEWPOINT.test(text)) return null;
  const [of, ...groups] = text.split("+");
  if (groups.length > 0) return { kind: "imagined", of: of === "guest" ? "guest" : "member", groups: [...new Set(groups)] };
  const [kind, id = ""] = text.split(":");
  return (id === "" ? { kind } : { kind, id }) as Viewpoint;
}

/** The principal behind a viewpoint, whom a rule can name and for whom a level can be wished; null where there is none. */
export function principalBehind(viewpoint: Viewpoint): Principal | null {
  switch (viewpoint.kind) {
    case "public":
    case "members":
      return { audience: viewpoint.kind };
    case "group":
      return { group: viewpoint.id };
    case "person":
      return { person: viewpoint.id };
    default:
      return null;
  }
}

/** The one subject whose eyes these are; null where they are those of many. */
export function subjectBehind(viewpoint: Viewpoint): Subject | null {
  switch (viewpoint.kind) {
    case "public":
      return { public: true };
    case "person":
      return { person: viewpoint.id };
    case "pass":
      return { pass: viewpoint.id };
    default:
      return null;
  }
}

/** Whether these are eyes from outside: the public, a pass, guests as a whole, an imagined guest. */
export const isOutside = (it: Viewpoint): boolean =>
  it.kind === "public" || it.kind === "pass" || it.kind === "guests" || (it.kind === "imagined" && it.of === "guest");
