import { searchResources as contract } from "../../../../contracts/programs.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { searchResources } from "../../../../server/services/programs/authzen.ts";

export const POST = serve(contract, ({ body }) => searchResources(body));
