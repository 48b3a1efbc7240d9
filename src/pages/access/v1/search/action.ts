import { searchActions as contract } from "../../../../contracts/programs.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { searchActions } from "../../../../server/services/programs/authzen.ts";

export const POST = serve(contract, ({ body }) => searchActions(body));
