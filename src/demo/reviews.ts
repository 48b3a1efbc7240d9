/** How Brinehaven looks after its pages: how often they are looked at again, what was confirmed, what readers say is wrong. */
import type { Edit, FlagKind, FlagOutcome, PageFlag, SpaceSettings } from "../core/access/model/index.ts";
import { answerBy, ended } from "../core/review/index.ts";
import type { LifeEvent } from "./lives.ts";
import { demoSpaces } from "./site.ts";

const DAY = 86_400_000;

/** Days after which the pages of a space are looked at again, and who said so. */
const PERIODS: Record<string, [days: number, keeper: string]> = {
  quays: [180, "maren"],
  pilotage: [120, "anouk"],
  dredging: [90, "sorin"],
  portsecurity: [90, "viktor"],
};

interface Said {
  page: string;
  kind: FlagKind;
  by: string;
  daysAgo: number;
  note: string;
  to?: string;
  answer?: { outcome: FlagOutcome; by: string; daysAgo: number; reason: string };
}

const SAID: Said[] = [
  { page: "tidetables", kind: "outOfDate", by: "sigrid", daysAgo: 23, note: "The tables for the new year are not in it." },
  { page: "cranes", kind: "doubtful", by: "jonas", daysAgo: 9, note: "Crane 3 lifts 32 tonnes since the refit, not 28." },
  { page: "ferrytimes", kind: "outOfDate", by: "yuki", daysAgo: 17, note: "The Sunday boat at 18:10 does not sail in winter.", to: "lena" },
  { page: "lessonramp", kind: "sensitive", by: "ludmila", daysAgo: 3, note: "It gives the address of somebody who was hurt." },
  { page: "weighbridge", kind: "incomplete", by: "ilse", daysAgo: 4, note: "Nothing is said of lorries with trailers." },
  { page: "boarding", kind: "noOwner", by: "matteo", daysAgo: 12, note: "Sigrid is away until spring: who answers for it?", to: "anouk" },
  {
    page: "shorepower",
    kind: "doubtful",
    by: "gwen",
    daysAgo: 60,
    note: "Berth 4 has no socket any more.",
    answer: { outcome: "setAside", by: "aisha", daysAgo: 55, reason: "It has: behind the new fence." },
  },
  {
    page: "mooring",
    kind: "outOfDate",
    by: "petr",
    daysAgo: 48,
    note: "The hooks on berth 2 were replaced.",
    answer: { outcome: "confirmed", by: "gwen", daysAgo: 44, reason: "" },
  },
];

/** Pages confirmed as they are. */
const CONFIRMED: { page: string; by: string; daysAgo: number }[] = [
  { page: "mooring", by: "gwen", daysAgo: 44 },
  { page: "dangerous", by: "samuel", daysAgo: 20 },
  { page: "gates", by: "viktor", daysAgo: 15 },
];

export function spaceSettings(id: string): SpaceSettings {
  const space = demoSpaces.find((it) => it.id === id);
  return { name: space?.title ?? "", address: space?.slug ?? "", purpose: space?.purpose ?? "" };
}

/** What was said and done about reviews until now (milliseconds since the epoch). */
export function reviewsOf(now: number): LifeEvent[] {
  const iso = (daysAgo: number) => new Date(now - daysAgo * DAY).toISOString();
  const flagOf = ({ kind, by, daysAgo, note, to }: Said): PageFlag => ({
    kind,
    by,
    at: iso(daysAgo),
    due: answerBy(kind, now - daysAgo * DAY),
    ...(to ? { to } : {}),
    note,
  });
  const periods = Object.entries(PERIODS).map(([space, [days, keeper]]): LifeEvent => {
    const remove = spaceSettings(space);
    return { daysAgo: 62, maker: keeper, note: "", edits: [{ kind: "settings", place: space, remove, put: { ...remove, review: days } }] };
  });
  const said = SAID.flatMap((it, i): LifeEvent[] => {
    const flag = `demoflag${i}`;
    const put = flagOf(it);
    const raised: Edit = { kind: "flag", place: it.page, flag, put };
    const { answer } = it;
    if (!answer) return [{ daysAgo: it.daysAgo, maker: it.by, note: "", edits: [raised], act: "flag" }];
    const after = ended(put, answer.outcome, { by: answer.by, at: iso(answer.daysAgo), reason: answer.reason });
    return [
      { daysAgo: it.daysAgo, maker: it.by, note: "", edits: [raised], act: "flag" },
      {
        daysAgo: answer.daysAgo,
        maker: answer.by,
        note: "",
        edits: [{ kind: "flag", place: it.page, flag, remove: put, put: after }],
        act: "review",
      },
    ];
  });
  const confirmed = CONFIRMED.map(
    ({ page, by, daysAgo }): LifeEvent => ({
      daysAgo,
      maker: by,
      note: "",
      edits: [{ kind: "reviewed", place: page, from: {}, to: { confirmed: iso(daysAgo), by } }],
      act: "review",
    }),
  );
  const notices = spaceSettings("notices");
  const letIn: LifeEvent = {
    daysAgo: 61,
    maker: "lena",
    note: "Residents see first what is wrong.",
    edits: [{ kind: "settings", place: "notices", remove: notices, put: { ...notices, flags: true } }],
  };
  return [...periods, letIn, ...said, ...confirmed];
}
