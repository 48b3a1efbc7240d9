import { signOut } from "../server/accounts/session.ts";
import { endpoint } from "../server/http/endpoint.ts";

export const POST = endpoint({
  policy: "anybody",
  handle: async ({ context }) => {
    const answer = await signOut(context.request.headers);
    const headers = new Headers({ location: "/" });
    for (const cookie of answer.headers.getSetCookie()) headers.append("set-cookie", cookie);
    return new Response(null, { status: 303, headers });
  },
});
