import { exportPeople as contract } from "../../../contracts/bringing.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { exportPeople } from "../../../server/services/bringing/bringing.ts";

export const GET = serve(contract, ({ query, me }) => exportPeople(me, query));
