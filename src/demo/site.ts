/** Brinehaven's groups, spaces, rules and pledges as they were on founding day, and who plays in the demo. */
import {
  ABILITIES,
  abilitiesIn,
  type Ceilings,
  type Fence,
  type Grant,
  type Level,
  type Pledge,
  type Principal,
  setOfLevel,
} from "../core/access/model/index.ts";

export const group = (id: string): Principal => ({ group: id });
export const person = (id: string): Principal => ({ person: id });
export const members: Principal = { audience: "members" };
export const everyone: Principal = { audience: "public" };

export const grant = (to: Principal, level: Level, until?: string): Grant => ({
  to,
  abilities: abilitiesIn(setOfLevel(level)),
  ...(until ? { until } : {}),
});

/** Names of the fourteen groups; people join them in people.csv. */
export const groupNames: Record<string, string> = {
  operations: "Operations",
  pilots: "Pilots",
  dhm: "Duty Harbour Masters",
  quay: "Quay Crew",
  traffic: "Traffic Control",
  press: "Press Office",
  safety: "Safety Office",
  security: "Security Watch",
  works: "Works & Dredging",
  environment: "Environment Team",
  staffoffice: "Staff Office",
  cruise: "Cruise Project",
  contractors: "Dredging Contractors",
  agents: "Shipping Agents",
};

export const groupsInGroups: Record<string, string[]> = { operations: ["pilots", "dhm", "quay", "traffic"] };

export interface DemoSpace {
  id: string;
  slug: string;
  title: string;
  purpose: string;
  landing: string;
  grants: Grant[];
  fences?: Fence[];
  ceilings?: Ceilings;
}

const READER = 1;
const COMMENTER = 2;
const WRITER = 3;
const PUBLISHER = 4;
const KEEPER = 5;

export const siteGrants: Grant[] = [
  { to: person("ines"), abilities: [...ABILITIES] },
  { to: person("tomasz"), abilities: [...ABILITIES] },
];

export const demoSpaces: DemoSpace[] = [
  {
    id: "notices",
    slug: "harbour-notices",
    title: "Harbour Notices",
    purpose: "What skippers, residents and visitors should know today.",
    landing: "welcome",
    grants: [grant(everyone, READER), grant(members, WRITER), grant(group("press"), PUBLISHER), grant(person("lena"), KEEPER)],
  },
  {
    id: "pilotage",
    slug: "pilotage-tides",
    title: "Pilotage & Tides",
    purpose: "Tide tables, approach, pilot boarding and under-keel clearance.",
    landing: "pilotagehome",
    grants: [grant(members, READER), grant(group("pilots"), PUBLISHER), grant(person("anouk"), KEEPER)],
  },
  {
    id: "quays",
    slug: "quay-operations",
    title: "Quay Operations",
    purpose: "Berths, cranes, shore power, and how a shift is run.",
    landing: "quayhome",
    grants: [
      grant(members, COMMENTER),
      grant(group("operations"), WRITER),
      grant(group("quay"), READER),
      grant(person("maren"), KEEPER),
      grant(person("jonas"), PUBLISHER),
    ],
  },
  {
    id: "dredging",
    slug: "dredging-works",
    title: "Dredging & Works",
    purpose: "Works in the water and on the quays, with those who carry them out.",
    landing: "workshome",
    grants: [
      grant(group("works"), PUBLISHER),
      grant(group("contractors"), WRITER),
      grant(group("dhm"), READER),
      grant(person("sorin"), KEEPER),
    ],
    ceilings: { outsiders: [], passes: true },
  },
  {
    id: "inquiries",
    slug: "safety-inquiries",
    title: "Safety & Inquiries",
    purpose: "Accident inquiries while they are open, and what was learned from those that are closed.",
    landing: "safetyhome",
    grants: [grant(group("safety"), PUBLISHER), grant(group("dhm"), READER), grant(person("ruth"), KEEPER)],
  },
  {
    id: "portsecurity",
    slug: "port-security",
    title: "Port Security",
    purpose: "Patrols, access control and the port facility security plan.",
    landing: "securityhome",
    grants: [grant(group("security"), PUBLISHER), grant(person("viktor"), KEEPER)],
    ceilings: { outsiders: [], passes: false },
  },
  {
    id: "handbook",
    slug: "staff-handbook",
    title: "Staff Handbook",
    purpose: "How we work here: hours, leave, travel, learning.",
    landing: "handbookhome",
    grants: [grant(members, READER), grant(group("staffoffice"), PUBLISHER), grant(person("greta"), KEEPER)],
  },
  {
    id: "cruise2027",
    slug: "cruise-season-2027",
    title: "Cruise Season 2027",
    purpose: "Twenty-six calls between April and October, planned together.",
    landing: "cruisehome",
    grants: [grant(members, WRITER), grant(group("cruise"), PUBLISHER), grant(person("noor"), KEEPER)],
  },
  {
    id: "environs",
    slug: "environment-fisheries",
    title: "Environment & Fisheries",
    purpose: "Water, birds, fish and the people who live from them.",
    landing: "environshome",
    grants: [grant(members, COMMENTER), grant(group("environment"), PUBLISHER), grant(person("elif"), KEEPER)],
  },
  {
    id: "oldport",
    slug: "archive-old-port",
    title: "Archive of the Old Port",
    purpose: "The harbour before the new breakwater. Kept, no longer changed.",
    landing: "oldporthome",
    grants: [grant(members, WRITER), grant(person("pavel"), KEEPER)],
  },
];

export const demoPledges: Pledge[] = [
  {
    id: "pledgepatrol",
    who: { class: "outsiders" },
    rule: "never",
    ability: "read",
    where: { tag: "patrol-route" },
    why: "The public never reads patrol routes.",
  },
  {
    id: "pledgeinquiry",
    who: { class: "outsiders" },
    rule: "never",
    ability: "read",
    where: { tag: "inquiry-open" },
    why: "The public never reads open inquiries.",
  },
  {
    id: "pledgesecurity",
    who: { class: "guests" },
    rule: "never",
    ability: "read",
    where: { space: "portsecurity" },
    why: "Guests never read Port Security.",
  },
  {
    id: "pledgedhm",
    who: { group: "dhm" },
    rule: "always",
    ability: "read",
    where: { space: "inquiries", state: "live" },
    why: "Duty Harbour Masters always read Safety & Inquiries.",
  },
  {
    id: "pledgenotices",
    who: { class: "outsiders" },
    rule: "always",
    ability: "read",
    where: { space: "notices", state: "live" },
    why: "What is live in Harbour Notices is always read by the public.",
  },
];

/** A dozen people the demo's sign-in page offers with one click. */
export const demoCast: { person: string; role: string }[] = [
  { person: "ines", role: "Site keeper" },
  { person: "maren", role: "Keeper of Quay Operations" },
  { person: "lena", role: "Keeper of Harbour Notices, Press Office" },
  { person: "viktor", role: "Keeper of Port Security" },
  { person: "jonas", role: "Publisher in Quay Operations" },
  { person: "anouk", role: "Pilot, keeper of Pilotage & Tides" },
  { person: "hugo", role: "Duty Harbour Master" },
  { person: "ruth", role: "Safety Office, keeper of Safety & Inquiries" },
  { person: "mei", role: "Member of the staff, in no group" },
  { person: "dora", role: "Guest: shipping agent" },
  { person: "bert", role: "Guest: dredging contractor" },
  { person: "greer", role: "Guest: insurance assessor" },
];
