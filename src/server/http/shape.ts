/**
 * What a request holds, checked against the class its contract names. Work is bounded before it is begun: how many elements
 * and how many unknown names there are is looked at first, outermost first; only then is each element looked into.
 */
import { type ClassConstructor, plainToInstance } from "class-transformer";
import { defaultMetadataStorage } from "class-transformer/cjs/storage.js";
import { getMetadataStorage, type ValidationError, validate } from "class-validator";
import { badRequest } from "../trouble.ts";

/** So many faults are told; the rest is said by its number. */
const MOST_FAULTS = 20;
/** Beyond so many names that nobody knows, nothing else is looked at. */
const MOST_UNKNOWN = 3;
/** Elements of a list for which its class says no number. */
const MOST_ELEMENTS = 100;

type Metadatas = ReturnType<ReturnType<typeof getMetadataStorage>["getTargetValidationMetadatas"]>;

/** The library asks all classes there are about each object it checks. What is declared of a class never changes: it is asked once. */
function askOnce(): void {
  const storage = getMetadataStorage();
  const known = new Map<unknown, Map<string, Metadatas>>();
  const { getTargetValidationMetadatas: find } = storage;
  storage.getTargetValidationMetadatas = (target, schema, always, strict, groups) => {
    if (groups?.length) return find.call(storage, target, schema, always, strict, groups);
    const key = `${schema}|${always}|${strict}`;
    const of = known.get(target) ?? new Map<string, Metadatas>();
    known.set(target, of);
    const found = of.get(key) ?? find.call(storage, target, schema, always, strict, groups);
    of.set(key, found);
    return found;
  };
}
askOnce();

interface Field {
  isList: boolean;
  /** Takes any thing as it is, to be looked at by whoever knows its like. */
  isOpaque: boolean;
  /** Elements of a list at most. */
  most: number;
  /** The class of what stands here, by what it says of itself; null where no thing with fields of a class does. */
  of: ((value: object) => ClassConstructor<object> | null) | null;
}

const fieldsOfClass = new Map<ClassConstructor<object>, ReadonlyMap<string, Field>>();

/** What a class declares of its fields, as far as it bounds work. */
function fieldsOf(type: ClassConstructor<object>): ReadonlyMap<string, Field> {
  const known = fieldsOfClass.get(type);
  if (known) return known;
  const fields = new Map<string, Field>();
  for (const { propertyName, name, constraints } of getMetadataStorage().getTargetValidationMetadatas(type, "", false, false)) {
    const known = fields.get(propertyName) ?? { isList: false, isOpaque: false, most: MOST_ELEMENTS, of: classIn(type, propertyName) };
    const isList = known.isList || name === "isArray";
    const isOpaque = known.isOpaque || (name === "isObject" && known.of === null);
    fields.set(propertyName, { ...known, isList, isOpaque, most: name === "arrayMaxSize" ? (constraints[0] as number) : known.most });
  }
  fieldsOfClass.set(type, fields);
  return fields;
}

/** The class of things in a field: where a field takes several, the one that the thing names itself. */
function classIn(type: ClassConstructor<object>, field: string): Field["of"] {
  const declared = defaultMetadataStorage.findTypeMetadata(type, field);
  if (!declared) return null;
  const { discriminator } = declared.options ?? {};
  if (discriminator)
    return (value) => {
      const said = (value as Record<string, unknown>)[discriminator.property];
      const found = discriminator.subTypes.find((it: { name: string }) => it.name === said);
      return (found?.value as ClassConstructor<object> | undefined) ?? null;
    };
  const made = declared.typeFunction() as ClassConstructor<object>;
  return [Object, Array, String, Number, Boolean].includes(made as never) ? null : () => made;
}

const isThing = (value: unknown): value is object => typeof value === "object" && value !== null && !Array.isArray(value);

export type Strictness = "strict" | "lenient";

const isHeld = (value: unknown): boolean => typeof value === "object" && value !== null;

const wrongAt = (field: string, message: string) => badRequest(`The request is not as it should be: ${message}.`, [{ field, message }]);

/** Refuses what holds more than its class takes; `path`: where it stands. */
function checkBounds(type: ClassConstructor<object>, value: object, strictness: Strictness, path: string): void {
  const fields = fieldsOf(type);
  const unknown = strictness === "strict" ? Object.keys(value).filter((name) => !fields.has(name)) : [];
  if (unknown.length > MOST_UNKNOWN) {
    const few = unknown.slice(0, MOST_UNKNOWN).map((name) => ({ field: path + name, message: `property ${name} should not exist` }));
    throw badRequest(
      `The request is not as it should be: ${unknown.length.toLocaleString("en")} fields that are not known here, the first of them ${few.map(({ field }) => `"${field.slice(0, 60)}"`).join(", ")}.`,
      few,
    );
  }
  // What nobody knows is not looked into, whatever it holds.
  const held = unknown.find((name) => isHeld((value as Record<string, unknown>)[name]));
  if (held !== undefined) throw wrongAt(path + held, `property ${held.slice(0, 60)} should not exist`);
  for (const [name, field] of fields) checkField(name, field, (value as Record<string, unknown>)[name], strictness, path);
}

/** The library looks into things and lists wherever they stand, whatever belongs there: only those are let by that a class takes. */
function checkField(name: string, field: Field, value: unknown, strictness: Strictness, path: string): void {
  const wrong = (message: string) => wrongAt(path + name, message);
  const { isList, isOpaque, most, of } = field;
  const checkThing = (thing: object, at: string) => {
    if (isOpaque) return;
    if (!of) throw wrong(`${name} must not hold fields`);
    const made = of(thing);
    if (made) checkBounds(made, thing, strictness, at);
    // Of a kind there is not: the library says so. What it holds has no say in that.
    else if (Object.keys(thing).length > MOST_ELEMENTS) throw wrong(`${name} holds a thing of a kind that is not known here`);
  };
  if (isThing(value) && isList) throw wrong(`${name} must be an array`);
  if (isThing(value)) checkThing(value, `${path}${name}.`);
  if (!Array.isArray(value)) return;
  if (!isList) throw wrong(`${name} must not be a list`);
  if (value.length > most) throw wrong(`${name} must contain no more than ${most} elements`);
  for (const [i, thing] of value.entries()) {
    if (Array.isArray(thing)) throw wrong(`each value in ${name} must not be a list`);
    if (isThing(thing)) checkThing(thing, `${path}${name}.${i}.`);
  }
}

/** A thing without what its class does not know, all the way down: that is dropped before any library looks at it. */
function withoutUnknown(type: ClassConstructor<object>, value: object): object {
  const given = value as Record<string, unknown>;
  const known = [...fieldsOf(type)].filter(([name]) => Object.hasOwn(given, name));
  const bare = (thing: unknown, of: Field["of"]): unknown => {
    const made = isThing(thing) ? of?.(thing) : null;
    return made ? withoutUnknown(made, thing as object) : thing;
  };
  return Object.fromEntries(
    known.map(([name, { of }]) => [name, Array.isArray(given[name]) ? given[name].map((it) => bare(it, of)) : bare(given[name], of)]),
  );
}

/** What a class takes as it is, by field; it is checked elsewhere, and no library need walk through it. */
function opaqueOf(type: ClassConstructor<object>, value: object): Record<string, object> {
  const given = value as Record<string, unknown>;
  return Object.fromEntries(
    [...fieldsOf(type)].flatMap(([name, { isOpaque }]) => (isOpaque && isThing(given[name]) ? [[name, given[name] as object]] : [])),
  );
}

interface Fault {
  field: string;
  message: string;
}

/** The first faults, in words, and how many there are in all. */
function describe(errors: ValidationError[], above = "", told: Fault[] = []): { told: Fault[]; all: number } {
  let all = 0;
  for (const error of errors) {
    const field = above + error.property;
    for (const message of Object.values(error.constraints ?? {})) {
      all++;
      if (told.length < MOST_FAULTS) told.push({ field, message });
    }
    all += describe(error.children ?? [], `${field}.`, told).all;
  }
  return { told, all };
}

/** Reads a value into a class. The library trips over things of another type where it looks for a thing's kind. */
function instanceOf<T extends object>(type: ClassConstructor<T>, value: object): T {
  try {
    return plainToInstance(type, value);
  } catch {
    throw badRequest("The request is not as it should be: where a thing with fields belongs, something else stands.");
  }
}

/** So many of a long list are looked at first: where they are wrong, nobody looks at the rest. */
const FIRST = 40;

/** A thing with the first elements of its long lists; null where none of them is long. */
function firstOf(value: object): object | null {
  const isLong = (it: unknown): it is unknown[] => Array.isArray(it) && it.length > FIRST;
  if (!Object.values(value).some(isLong)) return null;
  return Object.fromEntries(Object.entries(value).map(([name, it]) => [name, isLong(it) ? it.slice(0, FIRST) : it]));
}

/** Refuses what is not as its class says, with the first faults in words. */
async function checkInstance(instance: object, strictness: Strictness): Promise<void> {
  const errors = await validate(instance, {
    whitelist: true,
    forbidNonWhitelisted: strictness === "strict",
    forbidUnknownValues: false,
    // What is refused is told by its place and in words: what stood there is not carried along.
    validationError: { target: false, value: false },
  });
  if (errors.length === 0) return;
  const { told, all } = describe(errors);
  const more = all > told.length ? `; and ${(all - told.length).toLocaleString("en")} more` : "";
  throw badRequest(`The request is not as it should be: ${told.map((it) => it.message).join("; ")}${more}.`, told);
}

/** Checks a value against a class; `lenient` lets fields by that are not known, and drops them. */
export async function checkShape<T extends object>(
  type: ClassConstructor<T>,
  given: unknown,
  strictness: Strictness = "strict",
): Promise<T> {
  if (!isThing(given)) throw badRequest("The request must be a JSON object.");
  checkBounds(type, given, strictness, "");
  const value = strictness === "lenient" ? withoutUnknown(type, given) : given;
  const opaque = opaqueOf(type, value);
  const stands = Object.fromEntries(Object.keys(opaque).map((name) => [name, {}]));
  const few = firstOf({ ...value, ...stands });
  if (few) await checkInstance(instanceOf(type, few), strictness);
  const instance = instanceOf(type, { ...value, ...stands });
  await checkInstance(instance, strictness);
  // Plain objects from here on: the core compares and stores them.
  return { ...JSON.parse(JSON.stringify(instance)), ...opaque } as T;
}
