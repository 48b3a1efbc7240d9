/** Makes what databases of tests are copied from, before the first asks for it. */
import { openTestCluster } from "./cluster.ts";
import { templateOf } from "./databases.ts";

const { admin, close } = await openTestCluster();
for (const kind of ["schema", "empty", "demo"] as const) await templateOf(admin, kind);
await close();
