import { listDestinations as contract } from "../../contracts/publication.ts";
import { serve } from "../../server/http/endpoint.ts";
import { listDestinations } from "../../server/services/publication/destinations.ts";

export const GET = serve(contract, ({ query, me }) => listDestinations(me, query));
