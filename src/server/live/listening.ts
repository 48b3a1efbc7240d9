/**
 * What is told at once to whoever has something open, by whatever server they are connected to: the database carries it
 * (`notify` in the transaction that causes it, `listen` once a server process). What is carried is what it is about, never what
 * it says: each listener looks for itself, under the rights of that moment.
 */
import { sql } from "drizzle-orm";
import postgres from "postgres";
import { onLeavingDatabase, type Tx } from "../db/client.ts";
import { noteTrouble } from "../log.ts";

/** What can be listened to: the pen and the versions of a page, by its id; the end of a session (told by the database itself). */
const CHANNEL = "tesoro_pens";

type Told = () => void;

const listeners = new Map<string, Set<Told>>();
let connected = false;
let ours: postgres.Sql | undefined;
onLeavingDatabase(() => {
  connected = false;
  void ours?.end({ timeout: 1 });
});

async function connect(): Promise<void> {
  const own = postgres(process.env.DATABASE_URL ?? "", { max: 1, onnotice: () => {} });
  ours = own;
  await own.listen(
    CHANNEL,
    (about) => {
      for (const tell of listeners.get(about) ?? []) tell();
    },
    // Connected again after the database was away: nobody knows what was missed.
    () => {
      for (const those of listeners.values()) for (const tell of those) tell();
    },
  );
}

/** Calls back when something about this is told; what it returns ends that. */
export function listenTo(about: string, tell: Told): () => void {
  if (!connected) {
    connected = true;
    connect().catch((error) => {
      connected = false;
      noteTrouble("Listening", error);
    });
  }
  const those = listeners.get(about) ?? new Set();
  listeners.set(about, those.add(tell));
  return () => {
    those.delete(tell);
    if (those.size === 0 && listeners.get(about) === those) listeners.delete(about);
  };
}

/** Tells everybody who listens, once the transaction is through. */
export const tellOf = (tx: Pick<Tx, "execute">, about: string): Promise<unknown> => tx.execute(sql`select pg_notify(${CHANNEL}, ${about})`);
