/**
 * What the server writes to its log: what kind of trouble, where in the program, and never what it was about. Errors of
 * the database driver carry the statement with its parameters, which are texts of pages and tokens of sessions.
 */

/** Lines of a stack, without the message in front of them. */
const placesIn = (error: Error): string[] =>
  (error.stack ?? "")
    .split("\n")
    .filter((line) => /^\s+at /.test(line))
    .slice(0, 12);

function kindOf(error: unknown): string {
  if (!(error instanceof Error)) return typeof error;
  const { code, cause } = error as Error & { code?: unknown };
  const own = typeof code === "string" && /^[\w.-]{1,40}$/.test(code) ? `${error.name} ${code}` : error.name;
  return cause instanceof Error ? `${own} < ${kindOf(cause)}` : own;
}

/** Notes an error: its kind and where it came from, without its message. */
export function noteTrouble(doing: string, error: unknown): void {
  const where = error instanceof Error ? `\n${placesIn(error).join("\n")}` : "";
  console.error(`${new Date().toISOString()} ${doing}: ${kindOf(error)}${where}`);
}
