import { EffectiveQuery } from "../../../../contracts/requests.ts";
import { standard } from "../../../../server/http/standard.ts";
import { exportEffective } from "../../../../server/services/exports/access.ts";
import type { Part } from "../../../../server/services/exports/effective.ts";

export const GET = standard({
  scope: "exports",
  query: EffectiveQuery,
  handle: ({ query: { of, id, format, asOf } }) => exportEffective({ [of]: id } as Part, format, asOf),
});
