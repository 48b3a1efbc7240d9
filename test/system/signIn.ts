/** Signs in through the demo's list as a browser would post it, one that may be signed in already; returns the cookies to send along. */
export async function signInDemo(base: string, person: string, before = ""): Promise<string> {
  const answer = await fetch(`${base}/sign-in`, {
    method: "POST",
    redirect: "manual",
    headers: { origin: base, cookie: before },
    body: new URLSearchParams({ person }),
  });
  if (answer.status !== 303) throw new Error(`signing in as ${person} was answered with ${answer.status}`);
  return answer.headers
    .getSetCookie()
    .map((cookie) => cookie.split(";")[0])
    .join("; ");
}
