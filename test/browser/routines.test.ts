/** Routines as they are set: built from choices, looked at, switched on, run, and taken back. */
import { Key, type WebDriver } from "selenium-webdriver";
import { beforeAll, expect, test } from "vitest";
import { pressIn, seen, signInAs, textHolding, withText } from "./driver.ts";
import { isAccessible, stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

const part = async (name: string) => (await seen(driver, `button[aria-label^="${name}: "]`)).click();
const shut = () => driver.actions().sendKeys(Key.ESCAPE).perform();
const type = async (label: string, words: string) => {
  const field = await seen(driver, `input[aria-label="${label}"]`);
  await field.sendKeys(Key.chord(Key.CONTROL, "a"), words);
};

test("a routine is built from choices, shows what it would touch with the reason, runs, and is taken back", async () => {
  await signInAs(driver, on.site.base, "maren", "/routines");
  await (await seen(driver, "[data-row]")).sendKeys("n");
  await (await withText(driver, "button", "One of my own")).click();
  await part("What");
  await (await withText(driver, "button", "add a tag")).click();
  await type("Which tag", "look again");
  await shut();
  await part("not confirmed for long");
  await type("Days", "20");
  await shut();
  await part("When");
  await (await withText(driver, "button", "Thu")).click();
  await type("At", "07:15");
  expect((await (await seen(driver, "[aria-label='Its next times']")).getText()).split("\n")).toHaveLength(5);
  await shut();
  await type("Its name", "Seen again");
  await textHolding(driver, "main", "Mondays and Thursdays at 07:15");
  const told = await textHolding(driver, "[aria-label='What it would touch today'][aria-busy=false]", "not confirmed for");
  const touches = Number(/would touch (\d+) page/.exec(told)?.[1]);
  expect(touches).toBeGreaterThan(3);
  await isAccessible(driver, "routines");
  await pressIn(driver, "main", "Keep it and switch it on");
  await pressIn(driver, "main", "Run it now");
  await (await seen(driver, "[aria-label='Past runs'] button")).click();
  await textHolding(driver, "[aria-label='A run']", `${touches} touched`);
  await pressIn(driver, "[aria-label='A run']", "Take back …");
  await pressIn(driver, "[aria-label='A run']", "Take all of it back");
  await textHolding(driver, "[aria-label='A run']", "It is being taken back");
  await driver.get(`${on.site.base}/pages?tag=look+again`);
  await driver.wait(
    async () => {
      await driver.navigate().refresh();
      return (
        (await textHolding(driver, "main", "Pages")).includes("Live 0") ||
        (await textHolding(driver, "main", "Live")).match(/Live\s*0/) !== null
      );
    },
    60_000,
    "the tag stays on pages",
  );
});
