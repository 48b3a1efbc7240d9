/** Errors that are answers: each becomes the one error shape of the JSON endpoints, or an error page. */
export class Trouble extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    /** What helps to go on: what stands there now, which fields are wrong, … */
    readonly details?: unknown,
  ) {
    super(message);
  }
}

/** The answer for what does not exist and for what one may not know of: they look alike. */
export const notThere = (): Trouble => new Trouble(404, "notThere", "There is nothing here, or it is not open to you.");

export const badRequest = (message: string, details?: unknown): Trouble => new Trouble(400, "badRequest", message, details);
export const refused = (message: string, details?: unknown): Trouble => new Trouble(403, "refused", message, details);
export const changedMeanwhile = (message: string, details?: unknown): Trouble => new Trouble(409, "changedMeanwhile", message, details);
