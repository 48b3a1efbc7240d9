/** Review as it is worked: a reader flags a page, its owner settles it; a queue is emptied by keys alone, and taken back. */
import { Key, type WebDriver } from "selenium-webdriver";
import { beforeAll, expect, test } from "vitest";
import { pick, pressIn, pressKeys, seen, signInAs, signOut, textHolding, textToWrite, withText } from "./driver.ts";
import { isAccessible, stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

const left = async (): Promise<number> => Number.parseInt(await (await seen(driver, "[role=status] strong")).getText(), 10);
const current = () => seen(driver, "[data-row][aria-current=true]");
const press = (...keys: string[]) => pressKeys(driver, ...keys);

test("a reader flags a page without any script of ours; its owner is told in the queue, revises it, comes back and settles it", async () => {
  await signInAs(driver, on.site.base, "mei", "/read/quay-operations/x-shiftbook");
  await (await withText(driver, "a", "Something wrong?")).click();
  await (await seen(driver, "#note")).sendKeys("The night shift begins at ten now.");
  await (await withText(driver, "button", "Say so")).click();
  await textHolding(driver, "main", "Whoever answers for the page is told");
  await (await withText(driver, "a", "Back to the page")).click();
  await textHolding(driver, "main", "Said to be out of date: The night shift begins at ten now.");
  await signOut(driver);
  await signInAs(driver, on.site.base, "jonas", "/review?whose=mine");
  await (await seen(driver, '[data-page="shiftbook"]')).click();
  await textHolding(driver, "[aria-label='The page']", "The night shift begins at ten now.");
  await isAccessible(driver, "review");
  await press("r");
  await (await textToWrite(driver)).sendKeys(Key.chord(Key.CONTROL, Key.END), " Nights begin at ten.");
  await textHolding(driver, "aside", "Back to the queue");
  await pressIn(driver, "aside", "Publish …");
  await pressIn(driver, "section[aria-label=Publish]", "Publish now");
  await driver.wait(async () => (await driver.getCurrentUrl()).endsWith("/review"), 30_000, "one does not come back to the queue");
  await (await seen(driver, '[data-page="shiftbook"]')).click();
  await textHolding(driver, "[aria-label=Settle]", "It was revised");
  await press("r");
  await textHolding(driver, "body", "settled as revised");
  await signOut(driver);
});

test("the public says what is wrong, without signing in and without script; whoever answers sees the passage marked in the text", async () => {
  const quote = "The ramp closes ten minutes before departure.";
  await driver.get(`${on.site.base}/read/harbour-notices/x-ferrytimes`);
  await (await withText(driver, "a", "Something wrong?")).click();
  await (await seen(driver, "#note")).sendKeys("It closes at five to.");
  await (await seen(driver, "#quote")).sendKeys(quote);
  await (await withText(driver, "button", "Say so")).click();
  await textHolding(driver, "main", "Whoever answers for the page is told");
  await signInAs(driver, on.site.base, "lena", "/review");
  await (await seen(driver, '[data-page="ferrytimes"]')).click();
  await textHolding(driver, "[aria-label='The page']", "It closes at five to.");
  await textHolding(driver, "[aria-label='The page'] mark", quote);
  await isAccessible(driver, "review with a marked passage");
  await signOut(driver);
});

test("the whole queue of a keeper is emptied by keys alone, page by page and many at once; what was settled is taken back", async () => {
  await signInAs(driver, on.site.base, "maren", "/review");
  const more = await driver.executeAsyncScript<number>(`
    const done = arguments[arguments.length - 1];
    fetch("/api/pages?part=live&space=quays").then((it) => it.json()).then(({ rows }) => fetch("/api/flags", {
      method: "POST", headers: { "content-type": "application/json" },
      body: JSON.stringify({ places: rows.slice(0, 20).map((row) => row.id), kind: "incomplete", note: "A picture is missing." }),
    })).then((it) => it.json()).then((it) => done(it.done));`);
  expect(more).toBe(20);
  const reviewed = () =>
    driver.executeAsyncScript<number>(
      "const done = arguments[arguments.length - 1]; fetch('/api/ledger?who=maren&act=review').then((it) => it.json()).then((it) => done(it.total))",
    );
  const before = await reviewed();
  await driver.navigate().refresh();
  await (await current()).click();
  const all = await left();
  expect(all).toBeGreaterThanOrEqual(20);
  await press("s");
  await press("The new cranes come in May.", Key.ENTER);
  await driver.wait(async () => (await left()) === all - 1, 30_000, "setting aside settles nothing");
  await press("h");
  await pick(driver, "Who is to answer", "Jonas");
  await press(Key.TAB, "You know it best.", Key.ENTER);
  await textHolding(driver, "body", "handed on");
  await driver.get(`${on.site.base}/review`);
  await (await current()).click();
  await press(Key.SPACE, Key.ARROW_DOWN, Key.SPACE, "c");
  await driver.wait(async () => (await left()) === all - 3, 30_000, "many at once settles nothing");
  for (let rest = await left(); rest > 0; rest--) {
    await press("c");
    await driver.wait(async () => (await left()) === rest - 1, 30_000, `${rest} stay`);
  }
  await textHolding(driver, "main", "Nothing waits to be looked at again");
  // One entry for each page; two were settled by one, and one was handed on before.
  expect((await reviewed()) - before).toBe(all);
  await press("u");
  await pressIn(driver, "[aria-label='Settled today']", "Take back");
  await pressIn(driver, "[aria-label='Settled today']", "Take back now");
  await driver.wait(async () => (await left()) === 1, 30_000, "nothing comes back");
});
