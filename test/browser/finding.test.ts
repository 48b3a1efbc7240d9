/** Find or do: by a few letters and Enter to what the view offers, to another day, to people; and what is read, as charts and lists. */
import { By, Key, type WebDriver } from "selenium-webdriver";
import { beforeAll, expect, test } from "vitest";
import { pressKeys, seen, signInAs, signOut, textHolding } from "./driver.ts";
import { isAccessible, stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

const press = (...keys: string[]) => pressKeys(driver, ...keys);
/** Types into the box, and waits for something of that name. */
async function typed(words: string, finds: string): Promise<void> {
  await press(Key.ESCAPE);
  const box = await seen(driver, "input[aria-label='Find or do']");
  await box.click();
  await box.sendKeys(Key.chord(Key.CONTROL, "a"), words);
  await textHolding(driver, "#found", finds);
}
const arrive = (part: string) =>
  driver.wait(async () => (await driver.getCurrentUrl()).includes(part), 30_000, `one does not come to ${part}`);

test("what the view offers is done from the box in the masthead; what one may not do is not offered", async () => {
  await signInAs(driver, on.site.base, "maren", "/grid?place=cranes&tab=life");
  await textHolding(driver, "aside", "Archive");
  await press("/");
  await typed("archive", "Archive …");
  await press(Key.ENTER);
  await textHolding(driver, "[role=dialog]", "Archive");
  await press(Key.ESCAPE);
  await typed("jonas", "Jonas");
  await press(Key.ENTER);
  await arrive("person=jonas");
  await typed("review", "Review");
  await press(Key.ENTER);
  await arrive("/review");
  await signOut(driver);

  await signInAs(driver, on.site.base, "mei", "/grid?place=leave&tab=life");
  await textHolding(driver, "aside", "Leave and holidays");
  await typed("arch", "Archive of the Old Port");
  expect(await driver.findElement(By.id("found")).getText()).not.toContain("Archive …");
  await typed("invite", "Nothing of that name");
  await signOut(driver);

  await signInAs(driver, on.site.base, "ines", "/pages");
  await typed("as of last monday", "As of");
  await press(Key.ENTER);
  await arrive("/grid?at=");
  await typed("Tide tab", "Tide tables");
  await press(Key.ENTER);
  await arrive("place=tidetables");
  await signOut(driver);
});

test("what is read stands in bars and in a table, with what is stale, never read and not found; a page has its own", async () => {
  await signInAs(driver, on.site.base, "ines", "/reads?weeks=60");
  await textHolding(driver, "[aria-label='Most read']", "Tide tables");
  await textHolding(driver, "[aria-label='Never read']", "Ballast water");
  const missed = await textHolding(driver, "[aria-label='Searched for and not found']", "shore leave");
  // Fewer than five people looked for it.
  expect(missed).not.toContain("on call");
  await isAccessible(driver, "reads");
  await driver.get(`${on.site.base}/grid?place=tidetables&tab=reads`);
  await textHolding(driver, "aside table", "outsiders");
  await signOut(driver);
});
