/** Changes of rules that Brinehaven's keepers made over fourteen months, some of them mistakes that wait to be found. */
import type { Edit, Grant, Instant, Principal } from "../core/access/model/index.ts";
import { everyone, grant, group, person } from "./site.ts";

export interface RulesChange {
  daysAgo: number;
  maker: string;
  note: string;
  edits: Edit[];
}

const DAY = 86_400_000;

const gives = (place: string, put: Grant): Edit => ({ kind: "grant", place, put });
const fence = (place: string, kind: "read" | "write", ...admits: Principal[]): Edit => ({ kind: "fence", place, put: { kind, admits } });

/** What was done to the rules, relative to `now`. */
export function rulesHistory(now: Instant): RulesChange[] {
  const day = (daysFromNow: number) => new Date(now + daysFromNow * DAY).toISOString();
  return [
    {
      daysAgo: 395,
      maker: "lena",
      note: "Only the Press Office changes the front page.",
      edits: [fence("welcome", "write", group("press"), person("lena"))],
    },
    { daysAgo: 392, maker: "anouk", note: "Skippers ask for the tables every day.", edits: [gives("tidetables", grant(everyone, 1))] },
    {
      daysAgo: 380,
      maker: "ruth",
      note: "The open section: what was learned is for every skipper.",
      edits: [gives("lessons", grant(everyone, 1))],
    },
    { daysAgo: 350, maker: "elif", note: "The open section.", edits: [gives("living", grant(everyone, 1))] },
    {
      daysAgo: 325,
      maker: "maren",
      note: "Agents answer under their requests.",
      edits: [gives("berthrequests", grant(group("agents"), 2))],
    },
    {
      daysAgo: 148,
      maker: "sorin",
      note: "João stands in for the site foreman.",
      edits: [gives("dailyreports", grant(person("joao"), 3, day(-65)))],
    },
    {
      daysAgo: 138,
      maker: "viktor",
      note: "Keys: Gareth answers for this page.",
      edits: [{ kind: "stance", place: "nightkeys", from: "follow", to: "fresh" }, gives("nightkeys", grant(person("gareth"), 5))],
    },
    { daysAgo: 105, maker: "noor", note: "Visitors read this section without an account.", edits: [gives("visitors", grant(everyone, 1))] },
    {
      daysAgo: 95,
      maker: "elif",
      note: "Linnea's team lifts the moorings in spring.",
      edits: [gives("hydrographers", grant(person("linnea"), 2, day(150)))],
    },
    { daysAgo: 50, maker: "maren", note: "Customs asked for the list.", edits: [gives("dangerous", grant(person("yusuf"), 1, day(60)))] },
    {
      daysAgo: 28,
      maker: "ruth",
      note: "The assessor sees this page and nothing else.",
      edits: [gives("inquiry13", grant(person("greer"), 1, day(30)))],
    },
    {
      daysAgo: 20,
      maker: "maren",
      note: "The book is written by those on shift.",
      edits: [fence("shiftbook", "write", group("quay"), person("jonas"), person("maren"))],
    },
    { daysAgo: 10, maker: "noor", note: "Carla plans the shuttles.", edits: [gives("shuttles", grant(person("carla"), 2, day(200)))] },
    {
      daysAgo: 4,
      maker: "maren",
      note: "Berth plan: for those named only while it is being redone.",
      edits: [fence("berthdisputes", "read", group("operations"), person("maren"))],
    },
  ];
}
