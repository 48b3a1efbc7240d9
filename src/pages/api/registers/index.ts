import { readRegister as contract } from "../../../contracts/registers.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readRegister } from "../../../server/services/registers/registers.ts";

export const GET = serve(contract, ({ query, me }) => readRegister(me, query));
