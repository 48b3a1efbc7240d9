import { askForNewPassword as contract } from "../../../../contracts/accounts.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { askForNewPassword } from "../../../../server/services/accounts/resetting.ts";

export const POST = serve(contract, ({ params, me }) => askForNewPassword(me, params.id));
