/** A value in one form, whatever order its fields and lists have; what stands in a list twice stands there once. */
export function canonical(value: unknown): unknown {
  if (Array.isArray(value)) {
    const items = new Map(value.map(canonical).map((item) => [JSON.stringify(item), item]));
    return [...items].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, item]) => item);
  }
  if (typeof value !== "object" || value === null) return value;
  const fields = Object.entries(value).filter(([, it]) => it !== undefined && it !== null);
  return Object.fromEntries(fields.sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, it]) => [key, canonical(it)]));
}
