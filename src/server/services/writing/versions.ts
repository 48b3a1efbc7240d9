/** Versions of a page: by number, newest, and which one is live (lifecycle.md, "Versions"). */
import { and, desc, eq } from "drizzle-orm";
import type { Tx } from "../../db/client.ts";
import { versions } from "../../db/schema/index.ts";
import { notThere } from "../../trouble.ts";

export interface VersionRef {
  major: number;
  minor: number;
}

/** "2.1". */
export const versionName = ({ major, minor }: VersionRef): string => `${major}.${minor}`;

/** The version that a name says; null where it says none that can be. */
export function versionRef(name: string): VersionRef | null {
  if (!/^\d{1,9}\.\d{1,9}$/.test(name)) return null;
  const [major, minor] = name.split(".").map(Number);
  return Number.isSafeInteger(major) && Number.isSafeInteger(minor) && (major as number) < 2 ** 31 && (minor as number) < 2 ** 31
    ? { major: major as number, minor: minor as number }
    : null;
}

export async function newestVersion(tx: Tx, placeId: string) {
  const [row] = await tx
    .select()
    .from(versions)
    .where(eq(versions.placeId, placeId))
    .orderBy(desc(versions.major), desc(versions.minor))
    .limit(1);
  if (!row) throw notThere();
  return row;
}

/** One version by its name, or undefined. */
export async function versionNamed(tx: Tx, placeId: string, name: string) {
  const ref = versionRef(name);
  if (!ref) return undefined;
  const [row] = await tx
    .select()
    .from(versions)
    .where(and(eq(versions.placeId, placeId), eq(versions.major, ref.major), eq(versions.minor, ref.minor)));
  return row;
}
