import { ResourceSearchBody } from "../../../../contracts/authzen.ts";
import { standard } from "../../../../server/http/standard.ts";
import { searchResources } from "../../../../server/services/authzen.ts";

export const POST = standard({ scope: "decisions", body: ResourceSearchBody, handle: ({ body }) => searchResources(body) });
