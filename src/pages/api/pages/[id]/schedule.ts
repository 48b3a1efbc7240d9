import { NoQuery, ScheduleBody } from "../../../../contracts/requests.ts";
import { endpoint } from "../../../../server/http/endpoint.ts";
import { schedulePage, unschedulePage } from "../../../../server/services/scheduling.ts";

export const POST = endpoint({
  policy: "signedIn",
  body: ScheduleBody,
  handle: ({ params, body, me }) => schedulePage(me as string, params.id ?? "", body),
});

export const DELETE = endpoint({
  policy: "signedIn",
  query: NoQuery,
  handle: ({ params, me }) => unschedulePage(me as string, params.id ?? ""),
});
