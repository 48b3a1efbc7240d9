import { NoQuery, PublishBody } from "../../../../contracts/requests.ts";
import { endpoint } from "../../../../server/http/endpoint.ts";
import { readPublishSheet } from "../../../../server/services/publishSheet.ts";
import { publishPage } from "../../../../server/services/writing.ts";

export const GET = endpoint({
  policy: "signedIn",
  query: NoQuery,
  handle: ({ params, me }) => readPublishSheet(me as string, params.id ?? ""),
});

export const POST = endpoint({
  policy: "signedIn",
  body: PublishBody,
  handle: ({ params, body, me }) => publishPage(me as string, params.id ?? "", body),
});
