/** What is said about asking people in, and the order that comes of it. */
import { type AskedBody, type InviteBody, MOST_ASKED } from "../../contracts/inviting.ts";
import type { Choice } from "../../ui/Picker.tsx";
import type { PrincipalChoice } from "../shared/people.ts";

export interface Wished {
  kind: "guest" | "member";
  /** One a line: name and address. */
  list: string;
  places: Choice[];
  groups: PrincipalChoice[];
  level: 1 | 2 | 3 | 4;
  until: string;
  message: string;
}

export const NOTHING_YET: Wished = { kind: "guest", list: "", places: [], groups: [], level: 1, until: "", message: "" };

const ADDRESS = /<?([^\s<>,;"]+@[^\s<>,;"]+\.[^\s<>,;"]+)>?/;

/** Name and address of each line, as people write them: "Ana Silva <ana@example.org>", or with a comma or tab between. */
export function readList(text: string): { people: AskedBody[]; unclear: string[] } {
  const people: AskedBody[] = [];
  const unclear: string[] = [];
  for (const line of text.split(/\n/).map((it) => it.trim())) {
    if (line === "") continue;
    const found = ADDRESS.exec(line);
    const email = found?.[1] ?? "";
    const name = line
      .replace(found?.[0] ?? "", "")
      .replace(/[",;\t<>]+/g, " ")
      .replace(/\s+/g, " ")
      .trim();
    if (email === "") unclear.push(line);
    else people.push({ name: name || (email.split("@")[0] ?? email), email });
  }
  return { people, unclear };
}

/** The order, or what is missing for one. */
export function orderOf(wished: Wished, keeper: boolean): { order: InviteBody | null; missing: string } {
  const { people, unclear } = readList(wished.list);
  const { kind, places, groups, level, until } = wished;
  const missing =
    people.length === 0
      ? "Say who: a name and a mail address, one a line. What they will see stands here before anything is sent."
      : unclear.length > 0
        ? `There is no mail address in “${unclear[0]}”.`
        : people.length > MOST_ASKED
          ? `At most ${MOST_ASKED} people are asked in at once.`
          : kind === "guest" && until === ""
            ? "A guest has an end: say until when."
            : places.length === 0 && !(keeper && (kind === "member" || groups.length > 0))
              ? "Name at least one place that they are to see."
              : "";
  if (missing !== "") return { order: null, missing };
  const order: InviteBody = {
    kind,
    people,
    places: places.map(({ key }) => key),
    groups: groups.flatMap(({ principal }) => ("group" in principal ? [principal.group] : [])),
    level,
    until: until || null,
  };
  return { order, missing: "" };
}
