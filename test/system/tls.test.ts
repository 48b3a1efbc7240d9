/** Behind a proxy that speaks TLS: the session is for this host alone and never goes unencrypted, and what is not the proxy's word is not taken. */
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { type IncomingHttpHeaders, request as plainly } from "node:http";
import { createServer, request, type Server } from "node:https";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";

let site: TestSite;
let proxy: Server;
let origin = "";

beforeAll(async () => {
  const folder = mkdtempSync(join(tmpdir(), "tesoro-tls-"));
  const [key, cert] = [join(folder, "key.pem"), join(folder, "cert.pem")];
  const flags = ["-x509", "-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes", "-subj", "/CN=localhost", "-days", "2"];
  execFileSync("openssl", ["req", ...flags, "-keyout", key, "-out", cert], { stdio: "ignore" });
  proxy = createServer({ key: readFileSync(key), cert: readFileSync(cert) }, (req, res) => {
    const { hostname, port } = new URL(site.base);
    const headers = { ...req.headers, "x-forwarded-proto": "https", "x-forwarded-for": req.socket.remoteAddress ?? "" };
    const on = plainly({ hostname, port, path: req.url, method: req.method, headers }, (answer) => {
      res.writeHead(answer.statusCode ?? 502, answer.headers);
      answer.pipe(res);
    });
    req.pipe(on);
  });
  rmSync(folder, { recursive: true });
  await new Promise<void>((listens) => proxy.listen(0, "127.0.0.1", listens));
  origin = `https://localhost:${(proxy.address() as AddressInfo).port}`;
  Object.assign(process.env, { TESORO_ORIGIN: origin, TESORO_PROXY: "127.0.0.1" });
  site = await openSite();
});
afterAll(async () => {
  proxy?.close();
  await site?.close();
});

/** Asks through the proxy. */
const ask = (method: string, path: string, headers: Record<string, string> = {}, body = "") =>
  new Promise<{ status: number; headers: IncomingHttpHeaders }>((done, failed) => {
    const sent = { host: new URL(origin).host, ...headers, ...(body ? { "content-length": String(Buffer.byteLength(body)) } : {}) };
    const asked = request(
      { hostname: "127.0.0.1", port: new URL(origin).port, path, method, headers: sent, rejectUnauthorized: false },
      (answer) => {
        answer.resume().on("end", () => done({ status: answer.statusCode ?? 0, headers: answer.headers }));
      },
    );
    asked.on("error", failed).end(body);
  });

const signIn = (from = origin) =>
  ask("POST", "/sign-in", { origin: from, "content-type": "application/x-www-form-urlencoded" }, "person=mei");

it("gives a session for this very host, that no script reads and no plain connection carries", async () => {
  const { status, headers } = await signIn();
  expect(status).toBe(303);
  const cookies = headers["set-cookie"] ?? [];
  const [session = ""] = cookies.filter((it) => /session_token=/.test(it));
  expect(session).toMatch(/^__Host-tesoro\.session_token=/);
  for (const attribute of ["Secure", "HttpOnly", "Path=/", "SameSite=Lax"]) expect(session.split("; ")).toContain(attribute);
  expect(session).not.toMatch(/;\s*Domain=/i);
  for (const it of cookies) expect([it.split("=")[0], /;\s*Secure/i.test(it)]).toEqual([it.split("=")[0], true]);
  expect(headers["strict-transport-security"]).toMatch(/^max-age=\d{7,}/);
  const [pair = ""] = session.split(";");
  expect((await ask("GET", "/api/desk/count", { cookie: pair })).status).toBe(200);
  // Under another name it is none: what somebody plants over plain HTTP opens nothing.
  const value = pair.slice(pair.indexOf("=") + 1);
  for (const name of ["tesoro.session_token", "__Secure-tesoro.session_token"])
    expect([name, (await ask("GET", "/api/desk/count", { cookie: `${name}=${value}` })).status]).toEqual([name, 401]);
});

it("takes a change from its own pages alone: not from the same host without encryption, nor from another", async () => {
  for (const from of [origin.replace("https:", "http:"), "https://elsewhere.invalid", site.base])
    expect([from, (await signIn(from)).status]).toEqual([from, 403]);
});
