import { listTags as contract } from "../../contracts/tags.ts";
import { serve } from "../../server/http/endpoint.ts";
import { listTags } from "../../server/services/pages/tags.ts";

export const GET = serve(contract, ({ query, me }) => listTags(me, query.q ?? ""));
