import { listTemplates as listContract, makeTemplate as makeContract } from "../../../contracts/templates.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { listTemplates, makeTemplate } from "../../../server/services/templates/templates.ts";

export const GET = serve(listContract, ({ query, me }) => listTemplates(me, query));
export const POST = serve(makeContract, ({ body, me }) => makeTemplate(me, body));
