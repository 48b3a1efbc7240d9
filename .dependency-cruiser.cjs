// `.astro` files, which this program cannot read, are held to the same rules by `cli/imports.test.ts`.
// Imports point one way: pages → server, islands; islands → contracts, core, ui; server → contracts, core; core → nothing.
const only = (name, from, allowed) => ({
  name,
  severity: "error",
  from: { path: `^src/${from}/`, pathNot: "\\.test\\.tsx?$" },
  to: { path: "^src/", pathNot: `^src/(${[from, ...allowed].join("|")})/` },
});

module.exports = {
  forbidden: [
    { name: "no-circles", severity: "error", from: {}, to: { circular: true, dependencyTypesNot: ["type-only"] } },
    {
      name: "core-imports-nothing",
      severity: "error",
      comment: "The core is pure computation: nothing of the rest, no package, no Node.js.",
      from: { path: "^src/core/", pathNot: "\\.test\\.ts$" },
      to: { pathNot: "^src/core/" },
    },
    {
      name: "core-rooms-have-one-face",
      severity: "error",
      comment: "What is not in a room's index.ts is nobody else's business.",
      from: { path: "^src/core/access/([^/]+)/", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/core/access/[^/]+/(?!index\\.ts$)", pathNot: "^src/core/access/$1/" },
    },
    {
      name: "the-core-has-faces",
      severity: "error",
      from: { path: "^(src|cli|bench)/", pathNot: "^src/core/|\\.test\\.tsx?$" },
      to: { path: "^src/core/(access/[^/]+|content|findings|lifecycle|ledger)/(?!index\\.ts$)" },
    },
    {
      name: "no-service-calls-upward",
      severity: "error",
      comment: "The border is above: what a service needs of a request is handed to it.",
      from: { path: "^src/server/(services|access|db|ledger|accounts)/", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/server/http/" },
    },
    only("contracts-know-the-core", "contracts", ["core"]),
    only("ui-knows-contracts-and-core", "ui", ["contracts", "core", "layouts"]),
    only("islands-never-know-the-server", "islands", ["contracts", "core", "ui", "workers"]),
    only("workers-know-the-core", "workers", ["contracts", "core", "ui"]),
    only("server-knows-contracts-and-core", "server", ["contracts", "core"]),
    only("demo-uses-the-server", "demo", ["server", "core"]),
    only("pages-are-thin", "pages", ["server", "islands", "contracts", "ui", "layouts", "core"]),
    {
      name: "no-server-code-in-a-browser",
      severity: "error",
      from: { path: "^src/(islands|ui|contracts|workers)/", pathNot: "\\.test\\.tsx?$" },
      to: { path: "^(node:|fs$|crypto$|postgres|drizzle-orm|better-auth)", dependencyTypesNot: ["type-only"] },
    },
  ],
  options: { doNotFollow: { path: "node_modules" }, tsConfig: { fileName: "tsconfig.json" }, tsPreCompilationDeps: true },
};
