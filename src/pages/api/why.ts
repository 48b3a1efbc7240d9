import { WhyQuery } from "../../contracts/requests.ts";
import { endpoint } from "../../server/http/endpoint.ts";
import { readWhy } from "../../server/services/why.ts";

export const GET = endpoint({
  policy: "signedIn",
  query: WhyQuery,
  handle: ({ query, me }) => readWhy(me as string, query.place, query.column, query.ability),
});
