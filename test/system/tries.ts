/** What is tried of every endpoint of the application, as everybody: the status that each is answered with. */
export interface Try {
  method: "GET" | "POST" | "DELETE";
  path: string;
  body?: unknown;
  /** Status expected for the public, a guest, a member without rights there, the space's keeper. */
  public: number;
  dora: number;
  mei: number;
  maren: number;
}

export const grant = { kind: "grant", place: "cranes", put: { to: { group: "pilots" }, abilities: ["read"] } };
export const body = { schema: 1, content: [{ type: "paragraph" }] };
const members = { public: 401, dora: 403 };

const later = { what: "live", at: "2028-01-01T00:00:00Z", zone: "Europe/Berlin", note: "", version: "0.1", keepHelpers: false };

/** What is tried, of every endpoint of the application at least once. */
export const TRIES: Try[] = (
  [
    [{ method: "POST", path: "spaces", body: { title: "Another", purpose: "" }, ...members, mei: 403, maren: 403 }],
    [{ method: "POST", path: "changes", body: { edits: [grant], note: "", seen: "stale" }, ...members, mei: 403, maren: 409 }],
    [{ method: "POST", path: "order", body: { place: "cranes", after: null }, ...members, mei: 403, maren: 200 }],
    [{ method: "POST", path: "document/apply", body: { document: {}, note: "", seen: "" }, ...members, mei: 403, maren: 403 }],
    [{ method: "POST", path: "document/plan", body: { document: {} }, ...members, mei: 403, maren: 403 }],
    [
      { method: "POST", path: "acts/look", body: { act: { act: "bin", places: ["cranes"] } }, ...members, mei: 403, maren: 200 },
      { method: "POST", path: "acts/look", body: { act: { act: "bin", places: ["patrols"] } }, ...members, mei: 404, maren: 404 },
      {
        method: "POST",
        path: "acts/look",
        body: { act: { act: "move", places: ["cranes"], to: "patrols" } },
        ...members,
        mei: 404,
        maren: 404,
      },
    ],
    [
      { method: "POST", path: "pages/cranes/copy", body: { to: "quays", below: true }, ...members, mei: 403, maren: 200 },
      { method: "POST", path: "pages/patrols/copy", body: { to: "quays", below: true }, ...members, mei: 404, maren: 404 },
    ],
    [
      { method: "POST", path: "jobs/look", body: { order: { act: "archive", places: ["cranes"] } }, ...members, mei: 403, maren: 200 },
      {
        method: "POST",
        path: "jobs/look",
        body: { order: { act: "tag", places: ["patrols"], add: ["x"] } },
        ...members,
        mei: 404,
        maren: 404,
      },
      { method: "POST", path: "jobs/look", body: { order: { act: "archive" } }, ...members, mei: 400, maren: 400 },
      {
        method: "POST",
        path: "jobs",
        body: { order: { act: "archive", places: ["cranes"] }, count: 1, note: "", seen: "stale" },
        ...members,
        mei: 403,
        maren: 409,
      },
      { method: "GET", path: "jobs", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "jobs/none", ...members, mei: 404, maren: 404 },
      { method: "POST", path: "jobs/none/stop", ...members, mei: 404, maren: 404 },
      { method: "POST", path: "jobs/none/go-on", ...members, mei: 404, maren: 404 },
      { method: "POST", path: "jobs/none/take-back", body: { note: "" }, ...members, mei: 404, maren: 404 },
    ],
    [
      { method: "GET", path: "pages?sort=outside&order=up", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "pages?sort=tags&after=WyJ7eH0iLCJ4Il0", ...members, mei: 400, maren: 400 },
      { method: "GET", path: "pages/counts?tag=x", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "pages/export?format=csv", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "tags", ...members, mei: 200, maren: 200 },
    ],
    [
      { method: "GET", path: "filters", ...members, mei: 200, maren: 200 },
      {
        method: "POST",
        path: "filters",
        body: { name: "Quays", address: "?space=quays", space: "quays" },
        ...members,
        mei: 403,
        maren: 200,
      },
      { method: "POST", path: "filters", body: { name: "x", address: "?a", space: "patrols" }, ...members, mei: 404, maren: 404 },
      { method: "POST", path: "filters", body: { name: "x", address: "//elsewhere.invalid" }, ...members, mei: 400, maren: 400 },
      { method: "DELETE", path: "filters/none", ...members, mei: 404, maren: 404 },
    ],
    [
      { method: "GET", path: "people", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "people/table?kind=guest", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "people/table?kind=guest&after=x", ...members, mei: 400, maren: 400 },
      { method: "GET", path: "people/dora", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "people/nobody", ...members, mei: 404, maren: 404 },
      { method: "GET", path: "groups", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "groups/none", ...members, mei: 404, maren: 404 },
      { method: "GET", path: "groups/quay/leaving", ...members, mei: 403, maren: 403 },
      { method: "GET", path: "groups/none/leaving", ...members, mei: 403, maren: 403 },
    ],
    [{ method: "GET", path: "search?q=crane", public: 200, dora: 200, mei: 200, maren: 200 }],
    [{ method: "DELETE", path: "tokens/none", ...members, mei: 403, maren: 403 }],
    [
      { method: "GET", path: "tokens", ...members, mei: 403, maren: 403 },
      { method: "POST", path: "tokens", body: { name: "x", scopes: ["exports"] }, ...members, mei: 403, maren: 403 },
    ],
    [{ method: "GET", path: "find?q=crane", public: 401, dora: 200, mei: 200, maren: 200 }],
    [{ method: "GET", path: "grid?columns=public", ...members, mei: 200, maren: 200 }],
    [
      { method: "GET", path: "ledger/TAKEN", ...members, mei: 404, maren: 409 },
      { method: "POST", path: "ledger/TAKEN", body: { note: "", seen: "x" }, ...members, mei: 404, maren: 409 },
      { method: "GET", path: "ledger/999999", ...members, mei: 404, maren: 404 },
    ],
    [{ method: "GET", path: "ledger/check", ...members, mei: 403, maren: 403 }],
    [{ method: "GET", path: "ledger", ...members, mei: 200, maren: 200 }],
    [
      {
        method: "POST",
        path: "pages/cranes/buffer",
        body: { title: "x", body, base: "0.1", tab: "t", rev: 1, spent: [] },
        public: 401,
        dora: 404,
        mei: 403,
        maren: 200,
      },
      {
        method: "DELETE",
        path: "pages/cranes/buffer",
        body: { spent: [{ tab: "t", rev: 1 }] },
        public: 401,
        dora: 404,
        mei: 403,
        maren: 200,
      },
    ],
    [
      { method: "GET", path: "pages/cranes", public: 401, dora: 404, mei: 403, maren: 200 },
      {
        method: "POST",
        path: "pages/cranes",
        body: { title: "x", body, base: "0.1", note: "", spent: [] },
        public: 401,
        dora: 404,
        mei: 403,
        maren: 409,
      },
    ],
    [
      { method: "GET", path: "pages/craneaccident/publish", public: 401, dora: 404, mei: 404, maren: 200 },
      {
        method: "POST",
        path: "pages/craneaccident/publish",
        body: { note: "", version: "9.9", seen: "" },
        public: 401,
        dora: 404,
        mei: 404,
        maren: 409,
      },
    ],
    [
      {
        method: "POST",
        path: "pages/craneaccident/schedule",
        body: { ...later, at: "2020-01-01T00:00:00Z" },
        public: 401,
        dora: 400,
        mei: 400,
        maren: 400,
      },
      {
        method: "POST",
        path: "pages/craneaccident/schedule",
        body: later,
        public: 401,
        dora: 404,
        mei: 404,
        maren: 200,
      },
      // Another time while it is scheduled, then no time any more.
      {
        method: "POST",
        path: "pages/craneaccident/schedule",
        body: { ...later, at: "2028-02-01T00:00:00Z" },
        public: 401,
        dora: 404,
        mei: 404,
        maren: 200,
      },
      { method: "DELETE", path: "pages/craneaccident/schedule?what=live", public: 401, dora: 404, mei: 404, maren: 200 },
      { method: "DELETE", path: "pages/craneaccident/schedule?what=live", public: 401, dora: 404, mei: 404, maren: 400 },
    ],
    [
      // A title of blanks, zero-width ones too, is none.
      {
        method: "POST",
        path: "pages",
        body: { parent: "quays", as: "page", title: " \u200b\u00a0\u2800" },
        public: 401,
        dora: 400,
        mei: 400,
        maren: 400,
      },
      { method: "POST", path: "pages", body: { parent: "quays", as: "page", title: "x" }, public: 401, dora: 404, mei: 403, maren: 200 },
    ],
    [
      { method: "POST", path: "places/cranes/step-in", body: { reason: "x" }, ...members, mei: 403, maren: 403 },
      { method: "POST", path: "places/patrols/step-in", body: { reason: "x" }, ...members, mei: 404, maren: 404 },
    ],
    [
      { method: "GET", path: "places/cranes", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "places/patrols", ...members, mei: 404, maren: 404 },
    ],
    [{ method: "POST", path: "preview", body: { edits: [grant], columns: ["public"] }, ...members, mei: 403, maren: 200 }],
    [
      {
        method: "POST",
        path: "proposals",
        body: { place: "cranes", wishes: [{ principal: { group: "pilots" }, level: 1 }], edits: [] },
        ...members,
        mei: 403,
        maren: 200,
      },
    ],
    [
      { method: "GET", path: "why?place=cranes&viewpoint=public", public: 401, dora: 404, mei: 403, maren: 200 },
      { method: "GET", path: "why?place=berthrequests&viewpoint=person:dora", public: 401, dora: 200, mei: 403, maren: 200 },
    ],
  ] as Try[][]
).flat();
