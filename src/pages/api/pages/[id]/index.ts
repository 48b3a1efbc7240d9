import { NoQuery, SaveBody } from "../../../../contracts/requests.ts";
import { endpoint } from "../../../../server/http/endpoint.ts";
import { readWorking, saveVersion } from "../../../../server/services/writing.ts";

export const GET = endpoint({ policy: "signedIn", query: NoQuery, handle: ({ params, me }) => readWorking(me as string, params.id ?? "") });

export const POST = endpoint({
  policy: "signedIn",
  body: SaveBody,
  handle: ({ params, body, me }) => saveVersion(me as string, params.id ?? "", body),
});
