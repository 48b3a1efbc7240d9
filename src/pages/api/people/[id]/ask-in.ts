import { askInKnown as contract } from "../../../../contracts/inviting.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { askInKnown } from "../../../../server/services/inviting/inviting.ts";

export const POST = serve(contract, ({ params, me }) => askInKnown(me, params.id));
