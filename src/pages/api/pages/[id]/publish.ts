import { publish, readPublishSheet as sheetContract } from "../../../../contracts/writing.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { publishPage } from "../../../../server/services/writing/publishing.ts";
import { readPublishSheet } from "../../../../server/services/writing/publishSheet.ts";

export const GET = serve(sheetContract, ({ params, query, me }) => readPublishSheet(me, params.id, query));

export const POST = serve(publish, ({ params, body, me }) => publishPage(me, params.id, body));
