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
const MOST_ELEMENTS = 1_000;

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
  /** Elements of a list at most. */
  most: number;
  /** The class of what stands here, where it is a thing with fields of its own. */
  of(value: object): ClassConstructor<object> | null;
}

const fieldsOfClass = new Map<ClassConstructor<object>, ReadonlyMap<string, Field>>();

/** What a class declares of its fields, as far as it bounds work. */
function fieldsOf(type: ClassConstructor<object>): ReadonlyMap<string, Field> {
  const known = fieldsOfClass.get(type);
  if (known) return known;
  const fields = new Map<string, Field>();
  for (const { propertyName, name, constraints } of getMetadataStorage().getTargetValidationMetadatas(type, "", false, false)) {
    const most = name === "arrayMaxSize" ? (constraints[0] as number) : (fields.get(propertyName)?.most ?? MOST_ELEMENTS);
    fields.set(propertyName, { most, of: (value) => classOf(type, propertyName, value) });
  }
  fieldsOfClass.set(type, fields);
  return fields;
}

/** The class of a thing in a field: where a field takes several, the one that the thing names itself. */
function classOf(type: ClassConstructor<object>, field: string, value: object): ClassConstructor<object> | null {
  const declared = defaultMetadataStorage.findTypeMetadata(type, field);
  const { discriminator } = declared?.options ?? {};
  if (discriminator) {
    const said = (value as Record<string, unknown>)[discriminator.property];
    return (discriminator.subTypes.find(({ name }) => name === said)?.value as ClassConstructor<object> | undefined) ?? null;
  }
  const made = declared?.typeFunction?.() as ClassConstructor<object> | undefined;
  return made && ![Object, Array, String, Number, Boolean].includes(made as never) ? made : null;
}

const isThing = (value: unknown): value is object => typeof value === "object" && value !== null && !Array.isArray(value);

export type Strictness = "strict" | "lenient";

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
  for (const [name, { most, of }] of fields) {
    const it = (value as Record<string, unknown>)[name];
    if (Array.isArray(it) && it.length > most) {
      const message = `${name} must contain no more than ${most} elements`;
      throw badRequest(`The request is not as it should be: ${message}.`, [{ field: path + name, message }]);
    }
    const things = Array.isArray(it) ? it : [it];
    for (const [i, thing] of things.entries()) {
      if (!isThing(thing)) continue;
      const made = of(thing);
      if (made) checkBounds(made, thing, strictness, `${path}${name}.${Array.isArray(it) ? `${i}.` : ""}`);
    }
  }
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

/** Checks a value against a class; `lenient` lets fields by that are not known, and drops them. */
export async function checkShape<T extends object>(
  type: ClassConstructor<T>,
  value: unknown,
  strictness: Strictness = "strict",
): Promise<T> {
  if (!isThing(value)) throw badRequest("The request must be a JSON object.");
  checkBounds(type, value, strictness, "");
  const instance = instanceOf(type, value);
  const errors = await validate(instance, {
    whitelist: true,
    forbidNonWhitelisted: strictness === "strict",
    forbidUnknownValues: false,
    // What is refused is told by its place and in words: what stood there is not carried along.
    validationError: { target: false, value: false },
  });
  if (errors.length > 0) {
    const { told, all } = describe(errors);
    const more = all > told.length ? `; and ${(all - told.length).toLocaleString("en")} more` : "";
    throw badRequest(`The request is not as it should be: ${told.map((it) => it.message).join("; ")}${more}.`, told);
  }
  // Plain objects from here on: the core compares and stores them.
  return JSON.parse(JSON.stringify(instance)) as T;
}
