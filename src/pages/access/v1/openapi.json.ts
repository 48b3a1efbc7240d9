/** The description of every JSON endpoint, for programs and those who write them. */
import type { APIRoute } from "astro";
import { describeInterfaces, type EndpointModule } from "../../../server/http/openapi.ts";

const files = import.meta.glob<EndpointModule>(["/src/pages/api/**/*.ts", "/src/pages/access/v1/**/*.ts", "!**/openapi.json.ts"], {
  eager: true,
});

export const GET: APIRoute = ({ url }) => Response.json(describeInterfaces(files, process.env.TESORO_ORIGIN ?? url.origin));
