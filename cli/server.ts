/**
 * The server process: what the built application answers, files beside it, and round both what belongs to every answer:
 * time limits, the caller's true address, headers, compression. `PORT`, `HOST`; behind a proxy, `TESORO_PROXY` names it.
 */
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import type { Socket } from "node:net";
import { fileURLToPath } from "node:url";
import compression from "compression";
import proxyAddr from "proxy-addr";
import sirv from "sirv";
import { noteTrouble } from "../src/server/log.ts";
import { Pool } from "./aside/pool.ts";
import { declares, readDeclared } from "./declared/list.ts";

type Next = (error?: unknown) => void;
type Handler = (req: IncomingMessage, res: ServerResponse, next: Next, locals?: object) => void;

// Built into `dist/process/` (`process.config.ts`), beside what it serves.
const DIST = new URL("../", import.meta.url);
const SECOND = 1000;
/** How long a request may take to arrive: its head, and the whole of it. */
const LIMITS = { headersTimeout: 8 * SECOND, requestTimeout: 15 * SECOND, connectionsCheckingInterval: SECOND, maxHeaderSize: 16_384 };

/** Addresses, or networks as in "10.0.0.0/8", of the proxies whose word is taken; none unless they are named. */
const trusts = proxyAddr.compile((process.env.TESORO_PROXY ?? "").split(/[\s,]+/).filter(Boolean));

const isHttps = (req: IncomingMessage): boolean =>
  (process.env.TESORO_ORIGIN ?? "").startsWith("https:") ||
  (trusts(req.socket.remoteAddress ?? "", 0) && req.headers["x-forwarded-proto"] === "https");

/** Who calls. What a caller says of itself is taken from a named proxy only; nothing behind this reads it again. */
function takeAddress(req: IncomingMessage): string {
  const address = proxyAddr(req, trusts);
  for (const name of Object.keys(req.headers)) if (name === "forwarded" || name.startsWith("x-forwarded-")) delete req.headers[name];
  return address;
}

function setHeaders(req: IncomingMessage, res: ServerResponse): void {
  res.setHeader("x-content-type-options", "nosniff");
  res.setHeader("x-frame-options", "DENY");
  res.setHeader("referrer-policy", "same-origin");
  res.setHeader("permissions-policy", "camera=(), microphone=(), geolocation=()");
  res.setHeader("cross-origin-opener-policy", "same-origin");
  res.setHeader("cross-origin-resource-policy", "same-origin");
  if (isHttps(req)) res.setHeader("strict-transport-security", "max-age=31536000");
}

function refuse(res: ServerResponse, status: number, message: string): void {
  if (res.headersSent) return void res.destroy();
  res.writeHead(status, { "content-type": "text/plain; charset=utf-8", "cache-control": "no-store" }).end(message);
}

/** Whether an address can be read at all. */
function isReadable(url: string): boolean {
  try {
    return url.startsWith("/") && decodeURIComponent(new URL(url, "http://here").pathname) !== "";
  } catch {
    return false;
  }
}

// What may take long goes to a thread of its own; the built application finds it here.
globalThis.tesoroAside = new Pool().run;

const { handler } = (await import(new URL("server/entry.mjs", DIST).href)) as { handler: Handler };
const files = sirv(fileURLToPath(new URL("client/", DIST)), {
  etag: true,
  setHeaders: (res, path) => {
    // Built files carry a hash of what they hold in their name.
    if (path.startsWith("/_astro/")) res.setHeader("cache-control", "public, max-age=31536000, immutable");
  },
});
const compress = compression();
const isDeclared = declares(readDeclared(new URL("declared.json", DIST)));

/**
 * Lets through what stands in the list of what is answered. Whoever reads elsewhere gets the page that says so; whatever else
 * is sent there is not read at all.
 */
function checkDeclared(req: IncomingMessage, res: ServerResponse): boolean {
  const path = new URL(req.url ?? "", "http://here").pathname;
  if (isDeclared(path)) return true;
  const reads = req.method === "GET" || req.method === "HEAD";
  if (reads && !path.startsWith("/_")) {
    req.url = "/404";
    return true;
  }
  res.setHeader("connection", "close");
  refuse(res, 404, "There is nothing here.");
  return false;
}

const server = createServer(LIMITS, (req, res) => {
  const client = takeAddress(req);
  setHeaders(req, res);
  if (!isReadable(req.url ?? "")) return refuse(res, 400, "This address cannot be read.");
  if (!checkDeclared(req, res)) return;
  const broke: Next = (error) => {
    if (error) noteTrouble("A request", error);
    refuse(res, error ? 500 : 404, error ? "Something broke on the server. Nothing was changed." : "There is nothing here.");
  };
  compress(req as never, res as never, () => files(req, res, () => handler(req, res, broke, { client })));
});
server.keepAliveTimeout = 65 * SECOND;
server.on("clientError", (_, socket) => {
  // Browsers open connections ahead of need. On one that said nothing yet, an answer would be taken for that of the request
  // that is just on its way: it is closed without a word, and the browser asks again.
  const silent = (socket as Socket).bytesRead === 0;
  if (socket.writable && !silent) socket.end("HTTP/1.1 400 Bad Request\r\nConnection: close\r\nX-Content-Type-Options: nosniff\r\n\r\n");
  else socket.destroy();
});

const stop = () => {
  server.close(() => process.exit(0));
  server.closeIdleConnections();
  setTimeout(() => process.exit(0), 3 * SECOND).unref();
};
process.on("SIGTERM", stop).on("SIGINT", stop);
const [port, host] = [Number(process.env.PORT ?? 4321), process.env.HOST ?? "127.0.0.1"];
server.listen(port, host, () => {
  // The application is loaded by its first request; what waits for an instant must not wait for a reader.
  const own = host === "0.0.0.0" || host === "::" ? "127.0.0.1" : host;
  void fetch(`http://${own.includes(":") ? `[${own}]` : own}:${port}/sign-in`).catch(() => {});
});
