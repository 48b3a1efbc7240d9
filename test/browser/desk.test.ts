/** The desk as it is worked down: by keys alone, row by row, through the sheets and the tray, until nothing waits. */
import { By, Key, type WebDriver } from "selenium-webdriver";
import { beforeAll, expect, test } from "vitest";
import type { Desk, DeskRow } from "../../src/contracts/desk.ts";
import { applyTray, pick, pressKeys, seen, signInAs, signOut, textHolding, withText } from "./driver.ts";
import { isAccessible, stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

const press = (...keys: string[]) => pressKeys(driver, ...keys);
const current = () => seen(driver, "[data-row][aria-current=true]");
const desk = (): Promise<Desk> =>
  driver.executeAsyncScript("const done = arguments[0]; fetch('/api/desk').then((it) => it.json()).then(done);");
const ready = async (): Promise<Desk> => {
  for (;;) {
    const it = await desk();
    if (!it.pending) return it;
    await driver.sleep(500);
  }
};
/** Asked and done within the page: a row may be drawn anew between two calls. */
const keyOf = (): Promise<string> =>
  driver.executeScript("return document.querySelector('[data-row][aria-current=true]')?.dataset.key ?? ''");
const onRow = (): Promise<void> => driver.executeScript("document.querySelector('[data-row][aria-current=true]').focus()");

test("a reader flags a page; its owner finds it on the desk, and settles it there by one key", async () => {
  await signInAs(driver, on.site.base, "mei", "/flag?page=shiftbook");
  await (await seen(driver, "#note")).sendKeys("The relief comes at six.");
  await (await withText(driver, "button", "Say so")).click();
  await textHolding(driver, "main", "Whoever answers for the page is told");
  await signOut(driver);
  await signInAs(driver, on.site.base, "jonas", "/desk");
  await (await seen(driver, '[data-key="review:shiftbook"]')).click();
  await textHolding(driver, "[data-current=true]", "The relief comes at six.");
  await isAccessible(driver, "desk");
  const before = (await ready()).count;
  await press("c");
  await driver.wait(async () => (await ready()).count === before - 1, 30_000, "the row stays");
  expect((await ready()).settled[0]).toMatchObject({ words: expect.stringContaining("Reviewed"), mine: true });
  await signOut(driver);
});

/** What settles each kind of row, by keys alone. */
async function settle(row: DeskRow): Promise<void> {
  const [kind = ""] = row.key.split(":");
  const has = (key: string) => row.acts.some((act) => act.key === key);
  if (kind === "outside") return press("m");
  if (kind === "finding") return press("s", "It may stand there.", Key.ENTER);
  if (kind === "review" && has("s")) return press("s", "In spring.", Key.ENTER);
  if (kind === "asked") {
    await press("d");
    await seen(driver, "[data-current=true] form input");
    return press("Not now.", Key.ENTER);
  }
  if (kind === "notice") return press("r");
  if (kind === "approval") return press("a");
  // What is settled elsewhere, or needs thought, is set aside until a date.
  await press("z");
  await seen(driver, "[aria-label='Set aside until']");
  await press(Key.ENTER);
}

test("a broken pledge is mended where it stands: the best change goes to the tray, and once it is applied the row is gone", async () => {
  await signInAs(driver, on.site.base, "ines", "/desk");
  const pledge = (await ready()).rows.find(({ acts }) => acts.some(({ how }) => how.do === "mend"));
  await (await seen(driver, `[data-key="${pledge?.key}"]`)).click();
  await press("m");
  await textHolding(driver, `[data-key="${pledge?.key}"]`, "in the tray");
  await applyTray(driver);
  await driver.wait(async () => !(await ready()).rows.some(({ key }) => key === pledge?.key), 30_000, "it stays broken");
  await signOut(driver);
});

test("the whole desk of the site keeper is emptied by keys alone; what was settled stands there, and is taken back", async () => {
  await signInAs(driver, on.site.base, "ines", "/desk");
  await ready();
  await driver.navigate().refresh();
  await current();
  // What takes its time is there by now, and rows stay where they are.
  await driver.wait(
    async () => !(await textHolding(driver, "main", "wait")).includes("being looked at"),
    30_000,
    "the desk is never whole",
  );
  await onRow();
  await isAccessible(driver, "desk");
  const kinds = new Set((await ready()).rows.map(({ key }) => key.split(":")[0]));
  expect([...kinds].length).toBeGreaterThan(6);
  for (let left = (await ready()).count; left > 0; ) {
    const key = await keyOf();
    const row = (await ready()).rows.find((it) => it.key === key);
    if (!row) continue;
    await settle(row);
    await driver.wait(async () => (await driver.findElements(By.css(`[data-key="${key}"]`))).length === 0, 30_000, `${key} stays`);
    left = (await ready()).count;
  }
  await textHolding(driver, "[aria-label='Nothing waits']", "Nothing waits for you.");
  await textHolding(driver, "[aria-label='Nothing waits']", "Next by itself");
  expect(await driver.findElement(By.id("deskCount")).getText()).toBe("");
  await press("u");
  await (await withText(driver, "button", "Take back")).click();
  await (await withText(driver, "button", "Take back now")).click();
  await driver.wait(async () => (await ready()).count === 1, 30_000, "nothing comes back");
  await signOut(driver);
});

test("a guest's page is handed to somebody else from the desk, and what is staged says that it waits in the tray", async () => {
  await signInAs(driver, on.site.base, "maren", "/desk");
  const { rows } = await ready();
  const review = rows.find(({ key }) => key.startsWith("review:"));
  await (await seen(driver, `[data-key="${review?.key}"]`)).click();
  await press("h");
  await pick(driver, "Who is to answer", "Jonas");
  await press(Key.TAB, "You know it best.", Key.ENTER);
  await textHolding(driver, "#said", "handed on");
  const staged = (await ready()).rows.find(({ acts }) => acts.some(({ how }) => how.do === "stage"));
  await (await seen(driver, `[data-key="${staged?.key}"]`)).click();
  await press(staged?.acts.find(({ how }) => how.do === "stage")?.key ?? "");
  await textHolding(driver, `[data-key="${staged?.key}"]`, "in the tray");
});
