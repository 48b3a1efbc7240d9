import { ActionSearchBody } from "../../../../contracts/authzen.ts";
import { standard } from "../../../../server/http/standard.ts";
import { searchActions } from "../../../../server/services/authzen.ts";

export const POST = standard({ scope: "decisions", body: ActionSearchBody, handle: ({ body }) => searchActions(body) });
