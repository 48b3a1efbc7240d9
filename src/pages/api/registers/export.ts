import { exportRegister as contract } from "../../../contracts/registers.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { exportRegister } from "../../../server/services/registers/registers.ts";

export const GET = serve(contract, ({ query, me }) => exportRegister(me, query));
