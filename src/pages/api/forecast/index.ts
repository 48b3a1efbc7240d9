import { readForecast as contract } from "../../../contracts/forecast.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readForecast } from "../../../server/services/forecast/forecast.ts";

export const GET = serve(contract, ({ query, me }) => readForecast(me, query));
