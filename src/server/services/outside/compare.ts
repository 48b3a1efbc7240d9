/** Two viewpoints beside each other: where they differ, and through what. */
import type { CompareViewpointsQuery, CompareWhy, CompareWhyQuery, ViewpointsCompared } from "../../../contracts/outside.ts";
import { decide, SET_OF_CELL } from "../../../core/access/decide/index.ts";
import { explain, explanationText } from "../../../core/access/explain/index.ts";
import { type Imagined, imagine } from "../../../core/access/imagine/index.ts";
import { type CompiledPlace, type CompiledSubject, pathOf, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { abilitiesIn, describeSet, readViewpoint, subjectKey } from "../../../core/access/model/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, isKeeper, maySee, readAccess, seenPlace, somebodyKnown, subjectFor } from "../../access/current.ts";
import { mayKnowOthers, namesFor, subjectName } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { notThere, refused } from "../../trouble.ts";
import { accessAt } from "../forecast/ahead.ts";
import { VisibleTree } from "../grid/tree.ts";
import { streamed } from "../programs/exports/formats.ts";

/** Somebody who is here, or an imagined person. */
type Eyes = { subject: CompiledSubject; name: string } | { imagined: Imagined; name: string };

/** Whose eyes a text names, as far as the asker may know them. Throws alike for what is hidden and what is not there. */
function eyesOf(access: Access, me: CompiledSubject, text: string): Eyes {
  const names = namesFor(access, me);
  const inGroups = (kind: Imagined["kind"], all: string[]): Eyes => {
    const groups = [...new Set(all)];
    if (groups.some((id) => !access.index.document.groups.some((it) => it.id === id))) throw notThere();
    return { imagined: { kind, groups }, name: `Any ${kind}${groups.length > 0 ? ` in ${groups.map(names.group).join(" and ")}` : ""}` };
  };
  const viewpoint = readViewpoint(text);
  switch (viewpoint?.kind) {
    case "imagined":
      return inGroups(viewpoint.of, viewpoint.groups);
    case "guests":
      return inGroups("guest", []);
    case "members":
      return inGroups("member", []);
    case "group":
      return inGroups("member", [viewpoint.id]);
    case "pass": {
      const pass = access.index.document.passes.find(({ id }) => id === viewpoint.id);
      const place = pass && placeOf(access.index, pass.place);
      if (!place || !mayKnowOthers(access, me, place)) throw notThere();
      break;
    }
  }
  const who =
    viewpoint?.kind === "person"
      ? { person: viewpoint.id }
      : viewpoint?.kind === "pass"
        ? { pass: viewpoint.id }
        : { public: true as const };
  const subject = subjectOf(access.index, who);
  if (!subject) throw notThere();
  return { subject, name: subjectName(access, names, subjectKey(who)) };
}

interface Compared {
  /** The rules as they are or were, with imagined people in them. */
  access: Access;
  me: CompiledSubject;
  sides: [CompiledSubject, CompiledSubject];
  names: [string, string];
}

async function openCompared(tx: Tx, asker: string, { a, b, at }: CompareViewpointsQuery): Promise<Compared> {
  const now = await readAccess(tx);
  // What somebody could see once is not theirs to see today: looking back is for whoever sees all.
  if (at !== undefined && !isKeeper(now, subjectFor(now, asker))) throw refused("Looking back is for site keepers.");
  const access = await accessAt(tx, at);
  const me = at === undefined ? subjectFor(access, asker) : subjectOf(access.index, { person: asker });
  if (!me) throw notThere();
  const eyes = [eyesOf(access, me, a), eyesOf(access, me, b)] as const;
  const made = imagine(
    access.index,
    eyes.flatMap((it) => ("imagined" in it ? [it.imagined] : [])),
  );
  if (!made) throw notThere();
  const imagined = [...made.subjects];
  const side = (it: Eyes): CompiledSubject => {
    const found = "imagined" in it ? imagined.shift() : made.index.subjects[it.subject.number];
    if (!found) throw notThere();
    return found;
  };
  const sides: Compared["sides"] = [side(eyes[0]), side(eyes[1])];
  return {
    access: { ...access, index: made.index },
    me: made.index.subjects[me.number] as CompiledSubject,
    sides,
    names: [eyes[0].name, eyes[1].name],
  };
}

const setAt = ({ access: { index, at } }: Compared, subject: CompiledSubject, place: CompiledPlace): number =>
  decide(index, subject.number, place.number, at) & SET_OF_CELL;

async function differing(tx: Tx, it: Compared): Promise<Omit<ViewpointsCompared, "names">> {
  const { access, me, sides } = it;
  const differs = (place: CompiledPlace) => {
    const [a, b] = [setAt(it, sides[0], place), setAt(it, sides[1], place)];
    return a !== b && mayKnowOthers(access, me, place);
  };
  const tree = new VisibleTree(access, me);
  const { rows, fit, unshown } = await tree.shown(tx, new Set(), differs);
  return {
    rows: rows.map(({ place, fits }) => ({
      id: tree.idOf(place),
      title: maySee(access, me, place) ? (place.place.kind === "site" ? "The whole site" : (place.place.title ?? "")) : null,
      kind: place.place.kind,
      depth: pathOf(access.index, place).length - 1,
      sets: fits ? [setAt(it, sides[0], place), setAt(it, sides[1], place)] : null,
    })),
    differ: fit,
    unshown,
  };
}

export const compareViewpointsHere = (asker: string, query: CompareViewpointsQuery): Promise<ViewpointsCompared> =>
  inSnapshot(async (tx) => {
    const it = await openCompared(tx, asker, query);
    return { names: it.names, ...(await differing(tx, it)) };
  });

export const compareViewpoints = ofWholeSite("compareViewpointsHere", somebodyKnown, compareViewpointsHere);

/** Why they differ at a place: the first ability that one of them has there and the other has not, for both. */
export const compareWhyHere = (asker: string, { place: id, ...query }: CompareWhyQuery): Promise<CompareWhy> =>
  inSnapshot(async (tx) => {
    const it = await openCompared(tx, asker, query);
    const { access, me, sides, names } = it;
    const place = seenPlace(access, me, id);
    if (!mayKnowOthers(access, me, place)) throw notThere();
    const [a, b] = [setAt(it, sides[0], place), setAt(it, sides[1], place)];
    const [ability] = abilitiesIn(a ^ b);
    if (!ability) return { sides: [] };
    const told = namesFor(access, me);
    return {
      sides: sides.map((side, i) => {
        const { answer, steps } = explanationText(explain(access.index, side, ability, place, access.at), names[i] ?? "", told);
        return { answer, steps };
      }),
    };
  });

export const compareWhy = ofWholeSite("compareWhyHere", somebodyKnown, compareWhyHere);

export async function exportCompared(
  asker: string,
  { format, ...query }: CompareViewpointsQuery & { format: "csv" | "json" | "xlsx" },
): Promise<Response> {
  const { names, rows } = await compareViewpoints(asker, query);
  const lines = rows.flatMap(({ id, title, kind, sets }) => (sets ? [[id, title ?? "", kind, ...sets.map(describeSet)]] : []));
  return streamed(format, "viewpoints", ["id", "title", "kind", ...names], lines, () => lines.length);
}
