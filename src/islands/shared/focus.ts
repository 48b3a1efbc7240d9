/** Where the focus goes when what had it is gone. */

/** The first thing within an element that can have the focus, or the element itself. */
const FOCUSABLE = "a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), [tabindex]";

/** Focuses what a selector finds, once it is drawn; goes home where it finds nothing. */
export function focusOn(selector: string): void {
  requestAnimationFrame(() => {
    const found = document.querySelector<HTMLElement>(selector);
    if (found) found.focus();
    else goHome();
  });
}

/** The place of a view where one goes on working: the current cell of the grid, the text, the first entry; else the view. */
export function goHome(): void {
  const home = document.querySelector<HTMLElement>("[data-home]") ?? document.querySelector<HTMLElement>("main");
  if (!home) return;
  if (!home.matches(FOCUSABLE)) home.tabIndex = -1;
  home.focus({ preventScroll: true });
}

const isLost = (): boolean => document.activeElement === null || document.activeElement === document.body;

/**
 * Watches over the focus of a page: where the control that had it goes away or is switched off, the focus goes to what
 * is nearest to it, so that whoever works by keys never begins anew at the top. Returns how to end the watch.
 */
export function watchFocus(): () => void {
  let trail: HTMLElement[] = [];
  let timer = 0;
  const note = ({ target }: FocusEvent) => {
    trail = [];
    for (let it = target as HTMLElement | null; it && it !== document.body; it = it.parentElement) trail.push(it);
  };
  // A click on nothing in particular means to leave.
  const forget = () => setTimeout(() => isLost() && trail.splice(0), 0);
  const mend = () => {
    const [had, ...above] = trail;
    if (!had || !isLost() || !document.hasFocus()) return;
    const gone = !had.isConnected || had.matches(":disabled") || had.closest("[hidden], [inert]");
    if (!gone) return;
    const near = above.find((it) => it.isConnected && it.id !== "frame" && !it.matches("astro-island"));
    const next = near && [...near.querySelectorAll<HTMLElement>(FOCUSABLE)].find((it) => it.tabIndex >= 0 && it.offsetParent !== null);
    if (next && near !== document.querySelector("main")) next.focus();
    else goHome();
  };
  const observer = new MutationObserver(() => {
    clearTimeout(timer);
    timer = window.setTimeout(mend, 30);
  });
  document.addEventListener("focusin", note);
  document.addEventListener("mouseup", forget);
  observer.observe(document.body, { childList: true, subtree: true, attributes: true, attributeFilter: ["disabled", "hidden"] });
  return () => {
    observer.disconnect();
    clearTimeout(timer);
    document.removeEventListener("focusin", note);
    document.removeEventListener("mouseup", forget);
  };
}
