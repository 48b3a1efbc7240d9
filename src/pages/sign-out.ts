import { signOut as contract } from "../contracts/accounts.ts";
import { signOut } from "../server/accounts/session.ts";
import { serve } from "../server/http/endpoint.ts";
import { layDownAll } from "../server/services/pen/pen.ts";

export const POST = serve(contract, async ({ context }) => {
  // Whoever goes leaves no page occupied.
  if (context.locals.me) await layDownAll(context.locals.me.id);
  const answer = await signOut(context.request.headers);
  const headers = new Headers({ location: "/" });
  for (const cookie of answer.headers.getSetCookie()) headers.append("set-cookie", cookie);
  return new Response(null, { status: 303, headers });
});
