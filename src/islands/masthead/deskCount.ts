/** How many things wait on the desk, beside its name in the masthead: asked once a minute at most, whatever view one is in. */
import { countDesk } from "../../contracts/desk.ts";
import { ask } from "../shared/api.ts";

const KEY = "tesoro.desk.count";
const FRESH = 60_000;

const me = (): string => document.documentElement.dataset.me ?? "";

function show(count: number | null): void {
  const at = document.getElementById("deskCount");
  if (at) at.textContent = count === null || count === 0 ? "" : count.toLocaleString("en");
}

/** Shows a count, and keeps it for the other views. */
export function tellDeskCount(count: number | null): void {
  if (count === null) return;
  sessionStorage.setItem(KEY, JSON.stringify({ count, at: Date.now(), me: me() }));
  show(count);
}

function kept(): { count: number; at: number } | null {
  try {
    const it = JSON.parse(sessionStorage.getItem(KEY) ?? "null");
    return it?.me === me() ? it : null;
  } catch {
    return null;
  }
}

/** Shows what is known of it, and asks where that is old. The view has its turn first. */
export function watchDeskCount(): void {
  if (!document.getElementById("deskCount")) return;
  const known = kept();
  if (known) show(known.count);
  if (known && Date.now() - known.at < FRESH) return;
  setTimeout(
    () =>
      void ask(countDesk, { stay: true })
        .then(({ count }) => tellDeskCount(count))
        .catch(() => {}),
    1_500,
  );
}
