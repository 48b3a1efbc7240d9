import type { APIRoute } from "astro";
import { countLink, countPass } from "../../server/accounts/attempts.ts";
import { calendarOf } from "../../server/services/forecast/feed.ts";
import { Trouble } from "../../server/trouble.ts";

/** The calendar of an address; one that is not, or not any more, is not there. */
export const GET: APIRoute = async ({ params, locals }) => {
  try {
    await countPass(locals.client);
    const text = await calendarOf(params.token ?? "");
    return new Response(text, {
      headers: { "content-type": "text/calendar; charset=utf-8", "cache-control": "private, no-store", "referrer-policy": "no-referrer" },
    });
  } catch (error) {
    // Guessing is counted more strictly than reading.
    if (error instanceof Trouble && error.status === 404) await countLink(locals.client);
    throw error;
  }
};
