/** The life of pages on screen: acts with their sheet, by mouse and keys; the table of pages, jobs; moving by hand. */
import postgres from "postgres";
import { By, Key, type WebDriver } from "selenium-webdriver";
import { beforeAll, expect, test } from "vitest";
import { inSnapshot } from "../../src/server/db/client.ts";
import { loadDocument } from "../../src/server/db/document.ts";
import { jobs as register } from "../../src/server/db/schema/index.ts";
import { startPage } from "../../src/server/services/writing/writing.ts";
import { pick, pressIn, seen, signInAs, textHolding, withText } from "./driver.ts";
import { isAccessible, stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

const SHEET = "[role=dialog]";

const press = (words: string, within = SHEET): Promise<void> => pressIn(driver, within, words);
const accessible = (view: string): Promise<void> => isAccessible(driver, view);

const state = async (id: string): Promise<string> =>
  (await driver.executeAsyncScript(
    "const [id, done] = arguments; fetch('/api/places/' + id).then((it) => it.json()).then((it) => done(it.state ?? it.error.code))",
    id,
  )) as string;

test("a page with pages below and links from another space is binned by key, the sheet says what breaks, one line takes it back", async () => {
  await signInAs(driver, on.site.base, "maren", "/grid?words=Berth+plan");
  const cell = await seen(driver, '[data-place="berthplan"] [role=gridcell]');
  await driver.executeScript("arguments[0].focus()", cell);
  await driver.switchTo().activeElement().sendKeys("b");
  const said = await textHolding(driver, SHEET, "What breaks");
  expect(said).toContain("guests lose");
  expect(said).toMatch(/2 links from other pages lead nowhere/);
  await driver.findElement(By.css(`${SHEET} [data-do]`)).then(async (it) => expect(await it.isEnabled()).toBe(false));
  await accessible("the sheet of an act");
  await (await seen(driver, `${SHEET} input[type=radio]`)).click();
  await press("Bin");
  await textHolding(driver, "div[role=status]", "binned, with 3 below");
  expect(await state("berthdisputes")).toBe("binned");
  await press("Take back", "[data-applied]");
  await press("Take back now", "[data-applied]");
  await driver.wait(async () => (await state("berthdisputes")) === "live", 30_000);
});

test("a landing page is archived and another chosen in the same step, through the tray", async () => {
  await driver.get(`${on.site.base}/grid?place=quayhome&tab=life&act=archive`);
  await textHolding(driver, SHEET, "landing page");
  await pick(driver, "New landing page", "Mooring gangs");
  await press("Put in the tray");
  await textHolding(driver, "section[aria-label=Tray]", "1 change waits");
  await press("Apply", "section[aria-label=Tray]");
  await textHolding(driver, "div[role=status]", "Applied");
  expect(await state("quayhome")).toBe("archived");
  await driver.get(`${on.site.base}/read/quay-operations`);
  expect(await (await seen(driver, "h1")).getText()).toBe("Mooring gangs");
  await (await seen(driver, "main details summary")).click();
  await withText(driver, "a", "Bin");
});

/** Holds up whatever changes the site, once so much of a job is done: a batch is in the middle of its work, and waits. */
async function holdUp(enough: (done: number) => boolean): Promise<() => Promise<unknown>> {
  const own = postgres(on.site.databaseUrl, { max: 1, onnotice: () => {} });
  const done = async () => Number((await own`select count(*) as n from job_items where state = 'done'`)[0]?.n);
  const end = Date.now() + 20_000;
  while (!enough(await done())) if (Date.now() > end) throw new Error("nothing was done");
  await own`select pg_advisory_lock(7315003)`;
  return () => own.end();
}

test("300 pages from a filter: archived in bulk, stopped half-way, gone on with, taken back", async () => {
  const made: string[] = [];
  for (let i = 0; i < 300; i++) made.push((await startPage("ines", { parent: "cruise2027", as: "page", title: `Herring list ${i}` })).id);
  const archived = async () =>
    (await inSnapshot((tx) => loadDocument(tx))).places.filter((it) => it.state === "archived" && made.includes(it.id)).length;
  const jobs = "section[aria-label=Jobs]";
  await signInAs(driver, on.site.base, "ines", "/pages?part=drafts&words=Herring+list");
  await driver.executeScript("arguments[0].focus()", await seen(driver, '[role=row][data-row="0"]'));
  await driver.switchTo().activeElement().sendKeys(Key.SPACE);
  await press("all 300 that fit", "section[aria-label='Chosen pages']");
  await (await seen(driver, "section[aria-label='Chosen pages'] [data-act=archive]")).click();
  await textHolding(driver, SHEET, "batches of a hundred");
  await press("Archive");
  const letGo = await holdUp((done) => done >= 100);
  await press("Stop", jobs);
  // Stopping waits for no batch: it is known before the one that is held up goes on.
  await driver.wait(
    async () => (await inSnapshot((tx) => tx.select({ by: register.stopAsked }).from(register))).some(({ by }) => by === "ines"),
    30_000,
  );
  await letGo();
  await textHolding(driver, jobs, "Stopped by Ines Carvalho");
  const half = await archived();
  expect([half > 0, half < 300, half % 100]).toEqual([true, true, 0]);
  await press("Go on", jobs);
  await textHolding(driver, jobs, "done: 300");
  expect(await archived()).toBe(300);
  await press("Take back …", jobs);
  await press("Take all of it back", jobs);
  await textHolding(driver, jobs, "Take back 3 entries of the ledger");
  await driver.wait(async () => (await archived()) === 0, 20_000);
});

test("pages: chosen from a filter, archived as a job, taken back as one; the bin says since when, and what may be erased is, by its number", async () => {
  await signInAs(driver, on.site.base, "ines", "/pages?part=live&tag=patrol-route");
  const first = await seen(driver, '[role=row][data-row="0"]');
  await driver.executeScript("arguments[0].focus()", first);
  await driver.switchTo().activeElement().sendKeys(Key.SPACE);
  await press("all 1 that fit", "section[aria-label='Chosen pages']").catch(async () => {
    await (await withText(driver, "button", "that fit")).click();
  });
  await (await seen(driver, "section[aria-label='Chosen pages'] [data-act=archive]")).click();
  await textHolding(driver, SHEET, "batches of a hundred");
  await press("Archive");
  await textHolding(driver, "section[aria-label=Jobs]", "done:");
  await accessible("pages");
  // The newest job is the first.
  await press("Take back …", "section[aria-label=Jobs] li:first-child");
  await (await seen(driver, "section[aria-label=Jobs] li:first-child input")).sendKeys("Not yet.");
  await press("Take all of it back", "section[aria-label=Jobs]");
  await textHolding(driver, "section[aria-label=Jobs]", "Take back 1 entry of the ledger");

  await driver.get(`${on.site.base}/pages?part=bin&columns=title,left`);
  await textHolding(driver, "[role=grid]", "erasable from");
  const fax = await seen(driver, '[role=row][data-place="faxes"]');
  await fax.click();
  await (await seen(driver, "[data-act=erase]")).click();
  await textHolding(driver, SHEET, "cannot be taken back");
  await (await seen(driver, `${SHEET} input[inputmode=numeric]`)).sendKeys("1");
  await press("Erase");
  await textHolding(driver, "div[role=status]", "Sending a fax was erased");
  expect(await state("faxes")).toBe("notThere");
});

test("a row is dragged before another: nothing changes for anybody, so nothing is asked, and it can be taken back", async () => {
  await signInAs(driver, on.site.base, "viktor", "/grid");
  const order = async () =>
    (await driver.executeAsyncScript(
      "const done = arguments[0]; fetch('/api/grid?columns=public').then((it) => it.json()).then((it) => done(it.rows.filter((r) => r.kind === 'page' && it.rows[r.parent]?.id === 'portsecurity').map((r) => r.id)))",
    )) as string[];
  const before = await order();
  const [target, , dragged] = before;
  const handle = await seen(driver, `[data-place="${dragged}"] [role=gridcell]`);
  const onto = await seen(driver, `[data-place="${target}"] [role=gridcell]`);
  const box = await onto.getRect();
  await driver
    .actions()
    .move({ origin: handle })
    .press()
    .move({ origin: handle, x: 4, y: -14 })
    .move({ origin: onto, x: 0, y: Math.round(-box.height / 2 + 3) })
    .pause(300)
    .release()
    .perform();
  await textHolding(driver, "div[role=status]", "Applied");
  expect((await order()).slice(0, 2)).toEqual([dragged, target]);
  await press("Take back", "[data-applied]");
  await press("Take back now", "[data-applied]");
  await driver.wait(async () => JSON.stringify(await order()) === JSON.stringify(before), 30_000);
});
