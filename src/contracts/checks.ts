/** Checks that the fields of many requests share. */
import "reflect-metadata";
import { IsString, MaxLength, ValidateBy, ValidateIf, type ValidationOptions } from "class-validator";
import { instantOf } from "../core/access/model/index.ts";
import { hasWords, isLine } from "../core/words.ts";

/** A text that holds more than blanks. */
export const HasWords = (options?: ValidationOptions): PropertyDecorator =>
  ValidateBy(
    {
      name: "hasWords",
      validator: {
        validate: (value) => typeof value === "string" && hasWords(value),
        defaultMessage: (it) => `${it?.property} must hold words, not only blanks`,
      },
    },
    options,
  );

/** A name or a title: one line of words, of so many characters at most. */
export const IsLine = (most: number): PropertyDecorator =>
  ValidateBy({
    name: "isLine",
    constraints: [most],
    validator: {
      validate: (value) => typeof value === "string" && isLine(value) && value.length <= most,
      defaultMessage: (it) => `${it?.property} must be one line of at most ${most} characters`,
    },
  });

/** A field that may be left out; null is no way of leaving it out, and is checked like any other value. */
export const MayBeAbsent = (): PropertyDecorator => ValidateIf((_, value) => value !== undefined);

/** An instant as rules know them: ISO 8601 with an offset, of the years 1 to 9999. */
export const IsInstant = (): PropertyDecorator =>
  ValidateBy({
    name: "isInstant",
    validator: {
      validate: (value) => typeof value === "string" && !Number.isNaN(instantOf(value)),
      defaultMessage: (it) => `${it?.property} must be an ISO 8601 instant with an offset, like 2027-01-01T00:00:00Z`,
    },
  });

/** A version by its name, as "2.1". */
export const VERSION = /^\d{1,9}\.\d{1,9}$/;

/** The number of an entry in the ledger, as it stands in addresses: more digits can neither be counted with nor kept. */
export const ENTRY_NUMBER = /^\d{1,15}$/;

/** What names a space in addresses. */
export const SPACE_ADDRESS = /^[a-z0-9](?:[a-z0-9-]{0,58}[a-z0-9])?$/;

/** An edit of what is said of a place. */
export class AtPlace {
  @IsString() @MaxLength(64) place!: string;
}

const TAG = /^[^\s,](?:[^,\r\n]{0,38}[^\s,])?$/;
export const MOST_TAGS = 30;

/** Whether a text can be a tag: a few words without commas, and no blanks around them. */
export const isTag = (text: unknown): boolean => typeof text === "string" && TAG.test(text) && hasWords(text);

/** One tag. */
export const IsTag = (): PropertyDecorator =>
  ValidateBy({
    name: "isTag",
    validator: {
      validate: isTag,
      defaultMessage: (it) =>
        `${it?.property} must be a tag: words of at most 40 characters, without commas and without blanks around them`,
    },
  });

/** A list of tags. */
export const AreTags = (): PropertyDecorator =>
  ValidateBy({
    name: "areTags",
    validator: {
      validate: (value) => Array.isArray(value) && value.every(isTag),
      defaultMessage: (it) => `${it?.property} must be tags: words of at most 40 characters, without commas and without blanks around them`,
    },
  });
