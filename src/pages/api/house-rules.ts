import { readHouse as contract } from "../../contracts/house.ts";
import { serve } from "../../server/http/endpoint.ts";
import { readHouse } from "../../server/services/house/houseRules.ts";

export const GET = serve(contract, ({ me }) => readHouse(me));
