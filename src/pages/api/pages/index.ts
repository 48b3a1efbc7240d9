import { StartPageBody } from "../../../contracts/requests.ts";
import { endpoint } from "../../../server/http/endpoint.ts";
import { startPage } from "../../../server/services/writing.ts";

export const POST = endpoint({ policy: "signedIn", body: StartPageBody, handle: ({ body, me }) => startPage(me as string, body) });
