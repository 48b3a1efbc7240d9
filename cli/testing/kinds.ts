/**
 * What a test can ask for; each but the first is made once and copied for whoever asks. `bare`: nothing at all; `schema`:
 * migrated, and no site yet; `empty`: a site just founded by `KEEPER`; `demo`: Brinehaven at `INSTANT`.
 */
export type Kind = "bare" | Made;
export type Made = "schema" | "empty" | "demo";

/** The instant at which every test begins: a Monday noon in Brinehaven, a little after the demo was made. */
export const INSTANT = Date.parse(process.env.TESORO_TEST_INSTANT ?? "2026-11-23T12:00:00Z");

/** Making the demo takes its time; what it notes along the way has to lie behind `INSTANT`. */
export const MADE_BEFORE = 10 * 60_000;

export const KEEPER = { name: "Ada", email: "ada@here.invalid", password: "a password of length" };

export const SECRET = "a secret for tests and pictures only";
