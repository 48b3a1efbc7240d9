/** The page somebody gets when something broke or was refused before any page could be made. */
import { noteTrouble } from "../log.ts";
import { Trouble } from "../trouble.ts";

const escaped = (text: string): string => text.replace(/[&<>"]/g, (it) => `&#${it.charCodeAt(0)};`);

/** A plain page that needs nothing: no session, no database, no script. */
export function troublePage(error: unknown): Response {
  const known = error instanceof Trouble;
  if (!known) noteTrouble("A page", error);
  const message = known
    ? error.message
    : "Something broke on the server. Nothing was changed. Try again in a moment, or tell the site keeper.";
  const html = `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Tesoro</title><h1>${known ? "Not done" : "Something broke"}</h1><p>${escaped(message)}</p><p><a href="/">To the front door</a></p></html>`;
  return new Response(html, {
    status: known ? error.status : 500,
    headers: {
      "content-type": "text/html; charset=utf-8",
      "cache-control": "no-store",
      "content-security-policy": "default-src 'none'; frame-ancestors 'none'",
    },
  });
}
