import { NoQuery } from "../../../../contracts/requests.ts";
import { endpoint } from "../../../../server/http/endpoint.ts";
import { readSlip } from "../../../../server/services/slip.ts";

export const GET = endpoint({ policy: "member", query: NoQuery, handle: ({ params, me }) => readSlip(me as string, params.id ?? "") });
