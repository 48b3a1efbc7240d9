import type { APIRoute } from "astro";
import { robotsText } from "../server/services/reading/sitemap.ts";

export const GET: APIRoute = () => new Response(robotsText(), { headers: { "content-type": "text/plain; charset=utf-8" } });
