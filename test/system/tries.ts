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

const newSpace = { title: "Another", preset: "openHouse", keepers: [{ group: "pilots" }], publishers: [], writers: [] };

const asked = (place: string) => ({
  kind: "guest",
  people: [{ name: "Somebody", email: "somebody@there.invalid" }],
  places: [place],
  groups: [],
  level: 1,
  until: "2028-01-01T00:00:00Z",
});

const later = { what: "live", at: "2028-01-01T00:00:00Z", zone: "Europe/Berlin", note: "", version: "0.1", keepHelpers: false };

/** What is tried, of every endpoint of the application at least once. */
export const TRIES: Try[] = (
  [
    [
      { method: "POST", path: "spaces", body: { ...newSpace, purpose: "", note: "", seen: "" }, ...members, mei: 403, maren: 403 },
      { method: "POST", path: "spaces/look", body: newSpace, ...members, mei: 403, maren: 403 },
    ],
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
      { method: "GET", path: "outside/findings", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "outside/findings/cranes", ...members, mei: 403, maren: 404 },
      { method: "GET", path: "outside/findings/patrols", ...members, mei: 404, maren: 404 },
      {
        method: "POST",
        path: "outside/findings/aside",
        body: { place: "cranes", signs: ["x"], aside: true, reason: "So it is." },
        ...members,
        mei: 403,
        maren: 409,
      },
      { method: "POST", path: "outside/findings/look", ...members, mei: 403, maren: 403 },
      { method: "GET", path: "outside/crawl", ...members, mei: 403, maren: 403 },
      { method: "POST", path: "outside/crawl", ...members, mei: 403, maren: 403 },
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
      { method: "POST", path: "people/dora/new-password", ...members, mei: 403, maren: 403 },
      { method: "POST", path: "people/nobody/new-password", ...members, mei: 403, maren: 403 },
      { method: "GET", path: "people/dora/leaving", ...members, mei: 403, maren: 403 },
      { method: "POST", path: "people/dora/leaving/look", body: { to: null, lines: [], until: null }, ...members, mei: 403, maren: 403 },
      {
        method: "POST",
        path: "people/nobody/leaving",
        body: { to: null, lines: [], until: null, note: "", seen: "x" },
        ...members,
        mei: 403,
        maren: 403,
      },
      { method: "POST", path: "people/dora/ask-in", ...members, mei: 403, maren: 403 },
      { method: "GET", path: "people/dora/turning", ...members, mei: 403, maren: 403 },
      { method: "POST", path: "people/dora/erase", body: { name: "x", note: "" }, ...members, mei: 403, maren: 403 },
      { method: "GET", path: "people/dora/replacing?by=bert", ...members, mei: 403, maren: 403 },
      { method: "GET", path: "people/nobody", ...members, mei: 404, maren: 404 },
      { method: "GET", path: "groups", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "groups/none", ...members, mei: 404, maren: 404 },
      { method: "GET", path: "groups/quay/compare?with=pilots", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "groups/quay/compare?with=none", ...members, mei: 404, maren: 404 },
      { method: "GET", path: "groups/quay/leaving", ...members, mei: 403, maren: 403 },
      { method: "GET", path: "groups/none/leaving", ...members, mei: 403, maren: 403 },
    ],
    [
      { method: "GET", path: "invitations", ...members, mei: 200, maren: 200 },
      { method: "POST", path: "invitations/look", body: asked("cranes"), ...members, mei: 403, maren: 200 },
      { method: "POST", path: "invitations/look", body: asked("patrols"), ...members, mei: 404, maren: 404 },
      {
        method: "POST",
        path: "invitations",
        body: { ...asked("cranes"), message: "", note: "", seen: "stale" },
        ...members,
        mei: 403,
        maren: 409,
      },
      { method: "POST", path: "invitations/dora/send", ...members, mei: 404, maren: 404 },
      { method: "POST", path: "invitations/dora/end", ...members, mei: 404, maren: 404 },
      { method: "POST", path: "guests/dora/end/look", body: { until: "2028-01-01T00:00:00Z" }, ...members, mei: 404, maren: 404 },
      {
        method: "POST",
        path: "guests/dora/end",
        body: { until: "2028-01-01T00:00:00Z", note: "", seen: "stale" },
        ...members,
        mei: 404,
        maren: 404,
      },
    ],
    [
      { method: "GET", path: "passes", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "passes?place=patrols", ...members, mei: 404, maren: 404 },
      { method: "POST", path: "passes/look", body: { place: "cranes", below: false, until: null }, ...members, mei: 403, maren: 200 },
      { method: "POST", path: "passes/look", body: { place: "patrols", below: false, until: null }, ...members, mei: 404, maren: 404 },
      {
        method: "POST",
        path: "passes",
        body: { place: "cranes", below: false, until: null, name: "x", note: "", seen: "stale" },
        ...members,
        mei: 403,
        maren: 403,
      },
      { method: "POST", path: "passes/passlandings/withdraw", ...members, mei: 404, maren: 404 },
      { method: "POST", path: "passes/none/withdraw", ...members, mei: 404, maren: 404 },
    ],
    [{ method: "GET", path: "house-rules", ...members, mei: 403, maren: 403 }],
    [
      { method: "GET", path: "people/export?format=csv", ...members, mei: 403, maren: 403 },
      { method: "POST", path: "people/table/look", body: { table: "mail", columns: {} }, ...members, mei: 403, maren: 403 },
      { method: "POST", path: "people/table", body: { table: "mail", columns: {}, note: "", seen: "x" }, ...members, mei: 403, maren: 403 },
    ],
    [
      { method: "GET", path: "outbox", ...members, mei: 403, maren: 403 },
      { method: "GET", path: "outbox/none", ...members, mei: 403, maren: 403 },
    ],
    [{ method: "GET", path: "search?q=crane", public: 200, dora: 200, mei: 200, maren: 200 }],
    [{ method: "DELETE", path: "tokens/none", ...members, mei: 403, maren: 403 }],
    [
      { method: "GET", path: "tokens", ...members, mei: 403, maren: 403 },
      { method: "POST", path: "tokens", body: { name: "x", scopes: ["exports"] }, ...members, mei: 403, maren: 403 },
    ],
    [
      { method: "POST", path: "spaces/quays/contents", body: {}, ...members, mei: 403, maren: 200 },
      { method: "POST", path: "spaces/portsecurity/contents", body: {}, ...members, mei: 404, maren: 404 },
    ],
    [
      { method: "GET", path: "templates?in=quays", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "templates?in=portsecurity", ...members, mei: 404, maren: 404 },
      { method: "POST", path: "templates", body: { in: "quays", name: "x", about: "", below: false }, ...members, mei: 403, maren: 200 },
      { method: "POST", path: "templates/none", body: { name: "x", about: "", gone: true }, ...members, mei: 404, maren: 404 },
      { method: "POST", path: "templates/none/pages", body: { under: "none", title: "x" }, ...members, mei: 404, maren: 404 },
      { method: "GET", path: "template-pages/none", ...members, mei: 404, maren: 404 },
      {
        method: "POST",
        path: "template-pages/none",
        body: { title: "x", body, base: "1.1", note: "", spent: [] },
        ...members,
        mei: 404,
        maren: 404,
      },
      { method: "POST", path: "template-pages/none/shift", body: { to: "later" }, ...members, mei: 404, maren: 404 },
      {
        method: "POST",
        path: "template-pages/none/buffer",
        body: { title: "x", body, base: "1.1", tab: "t", rev: 1, spent: [] },
        ...members,
        mei: 404,
        maren: 404,
      },
      { method: "DELETE", path: "template-pages/none/buffer", body: { spent: [] }, ...members, mei: 404, maren: 404 },
      { method: "DELETE", path: "template-pages/none", ...members, mei: 404, maren: 404 },
    ],
    [
      { method: "GET", path: "idle", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "idle/export?format=csv", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "outside/public", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "outside/public/export?format=csv", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "outside/compare?a=public&b=members", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "outside/compare/export?a=public&b=members&format=csv", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "outside/compare/why?a=public&b=members&place=cranes", ...members, mei: 404, maren: 200 },
      { method: "GET", path: "outside/compare/why?a=public&b=members&place=patrols", ...members, mei: 404, maren: 404 },
      { method: "GET", path: "forecast?days=7", ...members, mei: 403, maren: 403 },
      { method: "GET", path: "pledges", ...members, mei: 403, maren: 403 },
      { method: "GET", path: "pledges/pledgepatrol", ...members, mei: 403, maren: 403 },
      {
        method: "POST",
        path: "pledges/try",
        body: { who: { class: "guests" }, rule: "never", ability: "read", where: { space: "portsecurity" } },
        ...members,
        mei: 403,
        maren: 403,
      },
      { method: "GET", path: "outside/guests", ...members, mei: 200, maren: 200 },
      { method: "GET", path: "outside/guests/dora", ...members, mei: 404, maren: 200 },
      { method: "GET", path: "outside/guests/greer", ...members, mei: 404, maren: 404 },
      {
        method: "POST",
        path: "outside/guests/plan",
        body: { guests: ["dora"], act: "end", until: null },
        ...members,
        mei: 403,
        maren: 403,
      },
      {
        method: "POST",
        path: "outside/guests/plan",
        body: { guests: ["dora"], act: "withdraw", until: null },
        ...members,
        mei: 404,
        maren: 200,
      },
      { method: "POST", path: "outside/meant", body: { places: ["welcome"], meant: true }, ...members, mei: 403, maren: 403 },
      { method: "POST", path: "outside/meant", body: { places: ["patrols"], meant: true }, ...members, mei: 404, maren: 404 },
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
