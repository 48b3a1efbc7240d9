import { ScheduleBody } from "../../../../contracts/requests.ts";
import { endpoint } from "../../../../server/http/endpoint.ts";
import { schedulePage } from "../../../../server/services/scheduling.ts";

export const POST = endpoint({
  policy: "signedIn",
  body: ScheduleBody,
  handle: ({ params, body, me }) => schedulePage(me as string, params.id ?? "", body),
});
