/**
 * Every control of every view, reached by Tab: keys act where the focus is and nowhere else, what is typed arrives whole,
 * and after whatever a control does the focus is somewhere.
 */
import { Key, type WebDriver } from "selenium-webdriver";
import { beforeAll, expect, test } from "vitest";
import { pressKeys, seen, signInAs, textHolding } from "./driver.ts";
import { stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(async () => {
  driver = on.browser.driver;
  await signInAs(driver, on.site.base, "ines", "/ledger");
});

interface Control {
  /** What it is, the same for all of a kind. */
  kind: string;
  tag: string;
  role: string;
  types: boolean;
  leaves: boolean;
  stages: boolean;
}

/** What can be told of the page besides the control that has the focus. */
interface Print {
  address: string;
  tray: string;
  slip: string;
  dialogs: number;
  keys: number;
}

const IN_PAGE = `
  window.walk = {
    all: () => [...document.querySelectorAll("a[href], button, input, select, textarea, summary, [tabindex], [contenteditable=true]")]
      .filter((it) => it.tabIndex >= 0 && !it.disabled && it.getClientRects().length > 0 && !it.closest("[data-radix-focus-guard]")),
    find: (kind) => walk.all().find((it) => walk.control(it).kind === kind),
    control(it) {
      const role = it.getAttribute("role") ?? "";
      const types = it.matches("textarea, [contenteditable=true], input:not([type=checkbox], [type=file], [type=radio])");
      const said = (it.getAttribute("aria-label") ?? it.textContent ?? "").trim().split(/\\s+/);
      const words = said.slice(0, /^(Why|Walk|Level|Remove|Open|Close|\\d+)$/.test(said[0]) ? 1 : 2).join(" ");
      const near = it.closest("section, fieldset, aside, nav, header, [role=dialog], [role=toolbar]");
      const stages = /^(To the|Close|Keepers of|Site keepers|take away|Take away|Start fresh|Follow again|no longer|leave it|Apply|Throw)/i.test(words);
      return { kind: [it.tagName, role, it.classList[0] ?? "", near?.getAttribute("aria-label") ?? "", words].join("|"), tag: it.tagName, role, types,
        leaves: it.matches("a[href], [type=file]") || words === "Apply" || it.form?.method === "post", stages };
    },
    print: () => ({
      address: location.pathname + location.search,
      tray: Object.keys(localStorage).filter((it) => it.startsWith("tesoro.tray.")).sort().map((it) => it + localStorage.getItem(it)).join(),
      slip: [...document.querySelectorAll("aside[aria-label^=Slip]")].map((it) => it.getAttribute("aria-label") + it.querySelector("[role=tab][aria-selected=true]")?.textContent).join(),
      dialogs: document.querySelectorAll("[role=dialog]").length,
      keys: document.querySelectorAll("aside[aria-label^=Keys]").length,
    }),
  };`;

const run = <T>(script: string, ...args: unknown[]): Promise<T> =>
  driver.executeScript(`${IN_PAGE} return ${script}`, ...args) as Promise<T>;
const print = () => run<Print>("walk.print()");
const pause = (milliseconds: number) => new Promise((later) => setTimeout(later, milliseconds));
/** Everything a key set off was drawn, and what watches over the focus has had its turn. */
const settled = () =>
  driver.executeAsyncScript("const done = arguments[0]; requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 60)))");
/** To whatever has the focus, as from a keyboard: what had it may be replaced at that moment, as a text is by its editor. */
const press = (...keys: string[]) => pressKeys(driver, ...keys);
const onBody = () => run<boolean>("document.activeElement === document.body || document.activeElement === null");

/** The focus is nowhere, and what watches over it does not bring it back: on a busy machine that takes a while. */
async function isLost(): Promise<boolean> {
  for (let i = 0; i < 20; i++) {
    if (!(await onBody())) return false;
    await pause(100);
  }
  return true;
}

/** The controls of a view in the order of Tab, each kind once. */
async function controlsByTab(): Promise<Control[]> {
  await run("(document.activeElement?.blur(), window.scrollTo(0, 0), null)");
  const found = new Map<string, Control>();
  const total = await run<number>("walk.all().length");
  for (let i = 0; i < total + 5; i++) {
    await driver.actions().sendKeys(Key.TAB).perform();
    const control = await run<Control | "again" | null>(
      "(() => { const it = document.activeElement; if (it?.walked) return 'again'; if (!walk.all().includes(it)) return null; it.walked = true; return walk.control(it); })()",
    );
    if (control === "again") break;
    if (!control) {
      if (await onBody()) break;
      continue;
    }
    if (!found.has(control.kind)) found.set(control.kind, control);
  }
  return [...found.values()];
}

const TYPED = "ab 1 w.f";

interface View {
  path: string;
  ready: [selector: string, words: string];
  /** What waits in the tray. */
  waiting?: typeof TRAY_ITEM;
}

async function open({ path, ready, waiting }: View): Promise<void> {
  await run("(localStorage.clear(), sessionStorage.clear(), null)");
  if (waiting) await run("localStorage.setItem(arguments[0], arguments[1])", `tesoro.tray.ines.${waiting.id}`, JSON.stringify(waiting));
  await driver.get(on.site.base + path);
  await textHolding(driver, ...ready);
}

const focus = async (control: Control): Promise<void> => {
  await run("walk.find(arguments[0])?.focus()", control.kind);
};

/** Letters, digits and arrows on a control: nothing else on the page may react. Returns what went wrong. */
async function tryLetters(control: Control): Promise<string[]> {
  const before = await print();
  const wrong: string[] = [];
  if (control.types) {
    await press(TYPED);
    // The editor of a text comes when somebody goes to it.
    await driver.wait(() => run<boolean>("!document.querySelector('[data-still]')"), 30_000);
    const text = await run<string>("document.activeElement.value ?? document.activeElement.textContent");
    if (!text.includes(TYPED)) wrong.push(`typed "${TYPED}", and it holds "${text.slice(0, 60)}"`);
  } else if (control.tag !== "SELECT" && !control.leaves) {
    const keys = ["x", "w", "f", "1", ".", ...(control.role === "tab" ? [] : [Key.ARROW_DOWN, Key.ARROW_RIGHT])];
    await pressKeys(driver, ...keys);
  }
  await settled();
  const after = await print();
  const moved = (name: keyof Print) => before[name] !== after[name];
  // A field that filters says so in the address; a cell of the grid has its keys.
  if (control.role === "gridcell") return wrong;
  for (const name of ["tray", "slip", "dialogs", "keys"] as const) if (moved(name)) wrong.push(`letters change ${name}: ${after[name]}`);
  if (moved("address") && !control.types) wrong.push(`letters change the address: ${after.address}`);
  return wrong;
}

/** Enter or Space on a control: whatever it does, the focus is somewhere afterwards, and nothing is staged by the way. */
async function tryAct(control: Control, key: string): Promise<string[]> {
  const before = await print();
  await press(key);
  await settled();
  const after = await print();
  const wrong: string[] = [];
  if (await isLost()) wrong.push("the focus fell to the body");
  if (before.tray !== after.tray && !control.stages && !control.types) wrong.push("something went into the tray, or out of it");
  if (before.slip !== after.slip && control.kind.includes("columnheader")) wrong.push("the slip changed");
  await driver.actions().sendKeys(Key.ESCAPE).perform();
  await settled();
  if (await isLost()) wrong.push("after Escape the focus fell to the body");
  return wrong;
}

/** What was walked in another view already: the masthead, the grid beside each slip. */
const known = new Set<string>();

async function walk(view: View): Promise<{ found: number; wrong: string[] }> {
  await open(view);
  const all = await controlsByTab();
  const controls = all.filter(({ kind }) => !known.has(kind));
  for (const { kind } of controls) known.add(kind);
  const wrong: string[] = [];
  let clean = true;
  for (const [i, control] of controls.entries()) {
    if (!clean || !(await run<boolean>("walk.find(arguments[0]) !== undefined", control.kind))) await open(view);
    await focus(control);
    const start = JSON.stringify(await print());
    const found = await tryLetters(control);
    if (!control.leaves) {
      await focus(control);
      if (!control.types || control.tag === "INPUT") found.push(...(await tryAct(control, i % 2 ? Key.SPACE : Key.ENTER)));
    }
    clean = !control.types && JSON.stringify(await print()) === start;
    wrong.push(...found.map((it) => `${view.path} · ${control.kind}: ${it}`));
  }
  return { found: all.length, wrong };
}

const TRAY_ITEM = {
  id: "rule:cranes:new pilots",
  place: "cranes",
  title: "Cranes: daily check",
  wishes: [],
  change: {
    edits: [{ kind: "grant", place: "cranes", put: { to: { group: "pilots" }, abilities: ["read", "discuss", "revise", "add"] } }],
    sentences: ["grant added"],
    besides: "",
  },
  others: [],
  exceptions: [],
  turn: 1,
};

const views: View[] = [
  { path: "/grid?columns=public,guests,members,group:pilots&place=shiftbook&tab=rules&show=fenced", ready: ["aside", "From above"] },
  { path: "/grid?columns=public,members&place=shiftbook&column=members&tab=why", ready: ["aside", "another ability"] },
  { path: "/grid?columns=public,members&place=shiftbook&tab=who&words=shift", ready: ["aside", "Members"] },
  { path: "/ledger?act=rules", ready: ["ol", "Rules changed"] },
  { path: "/house?part=files", ready: ["main", "Bring back"] },
  { path: "/house", ready: ["main", "Close the house"] },
  { path: "/write/closures", ready: ["aside", "Save a version"] },
];

test.each(views)(
  "keys stay where the focus is, and the focus is never lost: $path",
  async (view) => {
    const { found, wrong } = await walk(view);
    expect(wrong).toEqual([]);
    expect(found).toBeGreaterThan(8);
  },
  240_000,
);

test("with something in the tray, every control of it has its keys for itself", async () => {
  const { wrong } = await walk({ path: "/grid?words=Cranes", ready: ["section[aria-label=Tray]", "gain"], waiting: TRAY_ITEM });
  expect(wrong).toEqual([]);
  await driver.executeScript("localStorage.clear()");
}, 240_000);

test("the focus goes on from where it was: filters, columns, the slip, the tray", async () => {
  const active = () =>
    run<string>(
      "(document.activeElement.getAttribute('aria-label') ?? document.activeElement.dataset.cell ?? document.activeElement.tagName)",
    );
  await driver.get(`${on.site.base}/grid?columns=public,members,group:pilots`);
  await textHolding(driver, "[role=treegrid]", "Pilots");
  // The last row has the focus; then a filter leaves only a few rows: Tab still leads to a cell.
  await run("(document.querySelector('[data-cell=\"0-0\"]').focus(), null)");
  await press(Key.END);
  await pause(200);
  await (await seen(driver, "input[aria-label='Title holds']")).sendKeys("Berth plan");
  await pause(300);
  expect(await run<number>("document.querySelectorAll('[role=gridcell][tabindex=\"0\"]').length")).toBe(1);
  // The column that had the focus goes: its neighbour has it.
  await run("(document.querySelector('[data-place=berthplan] [data-column=\"group:pilots\"]').focus(), null)");
  await (await seen(driver, "button[aria-label='Remove the column Pilots']")).click();
  await pause(200);
  expect(await run<number>("document.querySelectorAll('[role=gridcell][tabindex=\"0\"]').length")).toBe(1);
  expect(await onBody()).toBe(false);
  // A chevron folds and does nothing else.
  await driver.get(`${on.site.base}/grid`);
  await (await seen(driver, "button[aria-label='Close Harbour Notices']")).click();
  await pause(200);
  expect((await print()).slip).toBe("");
  expect((await print()).address).toContain("closed=notices");
  // Back undoes one filter, not the view.
  await driver.navigate().back();
  await pause(200);
  expect((await print()).address).toBe("/grid");
  // Closing the slip leads back to the row it was about.
  await run("(document.querySelector('[data-place=welcome] [data-cell]').focus(), null)");
  await press(Key.ENTER);
  await textHolding(driver, "aside", "Welcome to Brinehaven");
  await (await seen(driver, "button[aria-label='Close the slip']")).click();
  await pause(200);
  expect(await active()).toMatch(/^\d+-0$/);
});
