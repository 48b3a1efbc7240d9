/** What is made to cost as much as it can, for whatever a contract takes. */
import { getMetadataStorage } from "class-validator";

/** The fields that a class of a contract declares. */
export const fieldsOf = (type: new () => object): string[] => [
  ...new Set(
    getMetadataStorage()
      .getTargetValidationMetadatas(type, "", false, false)
      .map((it) => it.propertyName),
  ),
];

/** As many values as the border lets by. */
const VALUES = 140_000;

/** Bodies made to cost: long lists of nothing in every field, and in lists; names that nobody knows; both at once. */
export function costly(fields: readonly string[]): [string, object][] {
  const nothings = (count: number, it: () => unknown) => Array.from({ length: count }, it);
  const inAll = (value: () => unknown) => Object.fromEntries(fields.map((name) => [name, value()]));
  const each = Math.floor(VALUES / Math.max(1, fields.length));
  const unknown = Object.fromEntries(nothings(450, () => 0).map((_, i) => [`n${i}`, 0]));
  return [
    ["many empty things", inAll(() => nothings(each, () => ({})))],
    ["just as many empty things as one may", inAll(() => nothings(Math.min(500, each), () => ({})))],
    ["lists in lists", inAll(() => nothings(Math.min(500, each / 40), () => nothings(40, () => ({}))))],
    ["a thing that holds lists", inAll(() => ({ a: nothings(each, () => ({})) }))],
    [
      "things of a kind, all wrong",
      inAll(() => nothings(Math.min(500, each / 15), () => ({ kind: "grant", put: { to: [], abilities: nothings(9, () => 0) } }))),
    ],
    ["unknown names", unknown],
    ["unknown names in things", inAll(() => unknown)],
    ["unknown names in each of many things", inAll(() => nothings(Math.min(500, each / 12), () => ({ a: 0, b: 0, c: 0, d: 0, e: 0 })))],
  ];
}
