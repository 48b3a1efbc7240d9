import { ClassesQuery } from "../../../../contracts/requests.ts";
import { standard } from "../../../../server/http/standard.ts";
import { exportClasses } from "../../../../server/services/exports/access.ts";

export const GET = standard({
  scope: "exports",
  query: ClassesQuery,
  handle: ({ query: { file, format, asOf } }) => exportClasses(file, format, asOf),
});
