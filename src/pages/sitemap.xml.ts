import type { APIRoute } from "astro";
import { readSitemap } from "../server/services/reading/sitemap.ts";
import { notThere } from "../server/trouble.ts";

export const GET: APIRoute = async ({ url }) => {
  const asked = url.searchParams.get("part");
  if (asked !== null && !/^[1-9]\d{0,4}$/.test(asked)) throw notThere();
  const text = await readSitemap(asked === null ? null : Number(asked));
  return new Response(text, { headers: { "content-type": "application/xml; charset=utf-8" } });
};
