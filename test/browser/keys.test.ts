/** The grid from the keyboard, views kept in addresses, words kept from a closed tab, and reading without any script. */
import { By, Key, type WebDriver } from "selenium-webdriver";
import type { Driver as ChromeDriver } from "selenium-webdriver/chrome.js";
import { beforeAll, expect, test } from "vitest";
import { openBrowser, seen, signInAs, signOut, textHolding, textToWrite, withText } from "./driver.ts";
import { stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

const active = async () => driver.switchTo().activeElement();
const focused = async () => (await (await active()).getAttribute("aria-label")) ?? (await (await active()).getText());
/** Presses keys one after the other, as hands do: each acts on what the one before led to. */
async function press(...keys: string[]): Promise<void> {
  for (const key of keys) {
    await (await active()).sendKeys(key);
    await new Promise((later) => setTimeout(later, 120));
  }
}

test("the grid is worked from the keyboard alone: move, fold, choose, why, tray, find", async () => {
  await signInAs(driver, on.site.base, "ines", "/grid");
  await textHolding(driver, "[role=treegrid]", "Harbour Notices");
  await driver.executeScript("document.querySelector('[data-cell=\"0-0\"]').focus()");
  await press(Key.ARROW_DOWN);
  expect(await focused()).toContain("Harbour Notices");
  const rows = async () => Number(await (await seen(driver, "[role=treegrid]")).getAttribute("aria-rowcount"));
  const open = await rows();
  await press(Key.ARROW_LEFT);
  expect(await rows()).toBe(open - 49);
  expect(await driver.getCurrentUrl()).toContain("closed=notices");
  await press(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_DOWN, Key.ARROW_DOWN);
  expect(await focused()).toBe("Public: Reader");
  await press(Key.ARROW_RIGHT);
  expect(await focused()).toMatch(/^Guests: Reader/);

  // Guests as a whole are no principal: no key sets a level, and the ladder says why.
  await press("3");
  await textHolding(driver, "[role=dialog]", "no group or person of its own");
  expect(await driver.findElements(By.css("section[aria-label=Tray]"))).toHaveLength(0);
  await press(Key.ESCAPE, Key.ARROW_RIGHT, "4");
  await textHolding(driver, "section[aria-label=Tray]", "1 change waits");
  await press("w");
  await textHolding(driver, "aside", "says that all members are Writer");
  await press(".");
  expect(await focused()).toBe("Note for the ledger");
  await (await withText(driver, "button", "Throw away")).click();

  await driver.executeScript("document.querySelector('[data-cell=\"1-0\"]').focus()");
  await press("?");
  await textHolding(driver, "aside[aria-label='Keys of the grid']", "choose a level");
  await driver.executeScript("document.body.focus(); document.activeElement.blur()");
  await (await seen(driver, "body")).sendKeys("/");
  await press("survey");
  await textHolding(driver, "#found", "Last survey of depths");
  await press(Key.ENTER);
  await textHolding(driver, "aside", "Last survey of depths");
});

test("a filtered grid is sent by its address, draws only what is on the screen, and keeps what waits in the tray", async () => {
  await driver.get(`${on.site.base}/grid?columns=public,group:pilots&show=fenced`);
  const text = await textHolding(driver, "[role=treegrid]", "Welcome to Brinehaven harbour");
  expect(text).toContain("Pilots");
  expect(text).not.toContain("Drones over the harbour");
  await (await withText(driver, "button", "Everything")).click();
  const all = Number(await (await seen(driver, "[role=treegrid]")).getAttribute("aria-rowcount"));
  expect(all).toBeGreaterThan(90);
  expect((await driver.findElements(By.css("[data-place]"))).length).toBeLessThan(60);

  await (await withText(driver, "button", "Add a viewpoint")).click();
  const picker = await seen(driver, "input[aria-label='Group or person']");
  await picker.sendKeys("dora sz");
  await textHolding(driver, "[role=dialog]", "Dóra Szabó");
  await picker.sendKeys(Key.ENTER);
  await textHolding(driver, "[role=treegrid]", "Dóra Szabó");
  expect(await driver.getCurrentUrl()).toContain("person:dora");
  await (await seen(driver, '[data-place="drone"] [data-column="person:dora"]')).click();
  await (await withText(driver, "button", "Commenter")).click();
  await textHolding(driver, "section[aria-label=Tray]", "1 guest gains");
  await driver.navigate().refresh();
  await textHolding(driver, "section[aria-label=Tray]", "1 guest gains");
  expect(await (await seen(driver, '[data-place="drone"] [data-column="person:dora"]')).getText()).toContain("→");
  await (await withText(driver, "button", "Throw away")).click();
});

test("words typed and not saved are there again after the tab was closed, also in another browser", async () => {
  await driver.get(`${on.site.base}/write/drone`);
  await (await textToWrite(driver)).sendKeys(Key.chord(Key.CONTROL, Key.END), " Not yet a sentence");
  await driver.get(`${on.site.base}/ledger`);
  await driver.get(`${on.site.base}/write/drone`);
  await textHolding(driver, ".prose", "Not yet a sentence");
  await (await textToWrite(driver)).sendKeys(Key.chord(Key.CONTROL, Key.END), ".");
  await textHolding(driver, "aside", "Kept, not yet a version");
  const other = await openBrowser();
  try {
    await signInAs(other.driver, on.site.base, "ines", "/write/drone");
    await textHolding(other.driver, ".prose", "Not yet a sentence.");
    await textHolding(other.driver, "aside", "brought back");
  } finally {
    await other.close();
  }
});

test("a page is read, and somebody signs in and out, with scripts switched off", async () => {
  await signOut(driver);
  const answer = await fetch(`${on.site.base}/read/harbour-notices/welcome-to-brinehaven-harbour-welcome`);
  const html = await answer.text();
  expect(html).not.toMatch(/<script|<astro-island|style="/);
  expect(answer.headers.get("content-security-policy")).toContain("default-src 'self'");
  expect(answer.headers.get("x-content-type-options")).toBe("nosniff");
  await (driver as ChromeDriver).sendDevToolsCommand("Emulation.setScriptExecutionDisabled", { value: true });
  await signInAs(driver, on.site.base, "mei", "/grid");
  expect(await driver.findElements(By.css("[role=treegrid]"))).toHaveLength(0);
  await driver.get(`${on.site.base}/read/staff-handbook`);
  await textHolding(driver, "h1", "Staff handbook");
  await (await withText(driver, "a", "Leave and holidays")).click();
  await textHolding(driver, "main", "Thirty days");
  await (await withText(driver, "button", "Sign out")).click();
  await textHolding(driver, "h1", "What would you like to know?");
});
