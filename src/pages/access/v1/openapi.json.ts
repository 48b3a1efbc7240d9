/** The description of every endpoint, for programs and those who write them. */
import type { APIRoute } from "astro";
import { describeInterfaces } from "../../../server/http/openapi.ts";

export const GET: APIRoute = ({ url }) => Response.json(describeInterfaces(process.env.TESORO_ORIGIN ?? url.origin));
