/** Makes what databases of tests are copied from, before the first asks for it. */
import { templateOf } from "./databases.ts";

for (const kind of ["schema", "empty", "demo"] as const) await templateOf(process.env.TESORO_TEST_CLUSTER ?? "", kind);
