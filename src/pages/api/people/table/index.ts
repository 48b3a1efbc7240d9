import { bringTable } from "../../../../contracts/bringing.ts";
import { readPeople } from "../../../../contracts/people.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { bringTable as bring } from "../../../../server/services/bringing/bringing.ts";
import { readPeople as read } from "../../../../server/services/people/table.ts";

export const GET = serve(readPeople, ({ query, me }) => read(me, query));
export const POST = serve(bringTable, ({ body, me }) => bring(me, body));
