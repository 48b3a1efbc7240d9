import { StepInBody } from "../../../../contracts/requests.ts";
import { endpoint } from "../../../../server/http/endpoint.ts";
import { stepIn } from "../../../../server/services/steppingIn.ts";

export const POST = endpoint({
  policy: "member",
  body: StepInBody,
  handle: ({ params, body, me }) => stepIn(me as string, params.id ?? "", body.reason),
});
