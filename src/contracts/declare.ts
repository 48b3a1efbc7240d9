/**
 * What an endpoint says of itself, once: the server answers by it, the views' client calls by it, and the description for
 * programs, the table of endpoints and the test that sends nonsense to all of them are made from it.
 */
import type { TokenScope } from "./tokens.ts";

/** Who may call at all; what they may do to a particular place is decided where it is done. */
export type Who = "anybody" | "signedIn" | "member" | { scope: TokenScope };
export type Method = "GET" | "POST" | "DELETE";
export type Shape<T> = new () => T;

/** The parts of a path in braces. */
export type Params<P extends string> = P extends `${string}{${infer Name}}${infer Rest}`
  ? { [K in Name | keyof Params<Rest>]: string }
  : object;

/** What comes back: JSON of a type that `answers.schema.json` describes by its name, nothing at all, or a file. */
export interface Answer<A> {
  schema: string | null;
  /** Media types of a file. */
  file?: readonly string[];
  /** Never set: carries the type. */
  type?: A;
}

export interface Contract<P extends string = string, B extends object = object, Q extends object = object, A = unknown> {
  method: Method;
  /** As in "/api/pages/{id}". */
  path: P;
  who: Who;
  /** What it does, in a sentence. */
  says: string;
  body?: Shape<B>;
  query?: Shape<Q>;
  answer: Answer<A>;
}

export const json = <A>(schema: string): Answer<A> => ({ schema });
export const nothing: Answer<Record<string, never>> = { schema: null };
export const file = (...types: string[]): Answer<never> => ({ schema: null, file: types });

export const declare = <P extends string, A, B extends object = object, Q extends object = object>(
  contract: Contract<P, B, Q, A>,
): Contract<P, B, Q, A> => contract;

// biome-ignore lint/suspicious/noExplicitAny: a list of contracts of every kind
export type AnyContract = Contract<any, any, any, any>;

/** An endpoint that takes nothing after the question mark. */
export class NoQuery {}
