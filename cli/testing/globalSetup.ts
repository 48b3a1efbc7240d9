/**
 * Before the first test of a run: the cluster that all of them share; `npm test` has started it for all its parts. After the
 * last it stops, unless another run uses it.
 */
import { openTestCluster } from "./cluster.ts";

export default async function setUp(): Promise<(() => Promise<void>) | undefined> {
  if (process.env.TESORO_TEST_CLUSTER) return undefined;
  const { admin, close } = await openTestCluster();
  process.env.TESORO_TEST_CLUSTER = admin;
  return close;
}
