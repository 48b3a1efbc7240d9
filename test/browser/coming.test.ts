/** What site keepers do about people and the house on screen: a table brought in, groups compared, mixes, settings, names erased, passwords. */
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { By, Key, type WebDriver } from "selenium-webdriver";
import { beforeAll, expect, test } from "vitest";
import { applyTray, pick, pressIn, seen, signInAs, takeBackLast, textHolding } from "./driver.ts";
import { isAccessible, stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

const SLIP = "aside[aria-label^='Slip of']";

const apply = () => applyTray(driver);
const takeBack = () => takeBackLast(driver);

/** A file as a program beside this one would have saved it. */
function fileOf(name: string, text: string, encoding: "utf8" | "utf16le"): string {
  const path = join(mkdtempSync(join(tmpdir(), "tesoro-table-")), name);
  writeFileSync(path, Buffer.concat([encoding === "utf16le" ? Buffer.from([0xff, 0xfe]) : Buffer.alloc(0), Buffer.from(text, encoding)]));
  return path;
}

const choose = async (path: string) => (await driver.findElement(By.css("input[type=file]"))).sendKeys(path);

test("a table of people is read row by row, its columns matched by hand, brought in and taken back; what is no table says so", async () => {
  await signInAs(driver, on.site.base, "ines", "/people");
  await (await seen(driver, "a[href='/people/bring']")).click();
  await textHolding(driver, "main", "A table of people");
  await isAccessible(driver, "a table of people");
  await choose(fileOf("odd.csv", "Wer;Wo\nTove Lind;tove.lind@there.invalid\n", "utf16le"));
  expect(await textHolding(driver, "[role=alert]", "No column holds the mail address")).toContain("Wer, Wo");
  await choose(
    fileOf(
      "people.csv",
      "Who;mail;team\nTove Lind;tove.lind@there.invalid;Ice watch\nNo Mail;;\nMaren;maren@brinehaven.invalid;\n",
      "utf16le",
    ),
  );
  const told = await textHolding(driver, "main", "1 added");
  expect(told).toMatch(/1 refused, left out[\s\S]*1 changed[\s\S]*1 added/);
  expect(told).toContain("Groups that are made: Ice watch");
  expect(told).toContain("There is no mail address.");
  // By hand: what was taken for the name is something else.
  const addressIs = async (column: number) => {
    const [, address] = await driver.findElements(By.css("section[aria-label='The table'] select"));
    await address?.findElement(By.css(`option[value='${column}']`)).click();
  };
  await addressIs(2);
  await textHolding(driver, "main", "“ice watch” is no mail address");
  await addressIs(1);
  await textHolding(driver, "main", "1 added");
  await pressIn(driver, "main", "Bring them in");
  await textHolding(driver, "main", "Done.");
  await takeBack();
  await driver.get(`${on.site.base}/people?words=tove&state=out`);
  await textHolding(driver, "[role=grid]", "Tove Lind");
});

test("two groups stand beside each other: who is in one alone, and what one alone is granted", async () => {
  await driver.get(`${on.site.base}/people?part=groups&open=pilots`);
  await textHolding(driver, SLIP, "Beside another group");
  await pick(driver, "Compare with", "Duty Harbour Masters");
  const told = await textHolding(driver, SLIP, "In both:");
  expect(told).toMatch(/Only in Pilots: \d+ p/);
  expect(told).toMatch(/Only in Duty Harbour Masters: \d+ p/);
  await isAccessible(driver, "groups compared");
});

test("a member becomes a guest and is one again by taking it back; a suspended one's name is erased, typed, for good", async () => {
  await driver.get(`${on.site.base}/people?words=sorin&person=sorin`);
  await textHolding(driver, SLIP, "Sorin Petrescu");
  await pressIn(driver, SLIP, "Make a guest");
  await textHolding(driver, SLIP, "a guest from now on, in the tray");
  await apply();
  await textHolding(driver, SLIP, "guest");
  await takeBack();
  await driver.get(`${on.site.base}/people?words=gareth&person=gareth`);
  await textHolding(driver, SLIP, "suspended");
  await pressIn(driver, SLIP, "Erase name …");
  const name = await (await seen(driver, `${SLIP} h2`)).getText();
  const box = await seen(driver, `${SLIP} input[aria-label^='Type their name']`);
  await box.sendKeys("Somebody");
  const erase = await driver.findElement(By.xpath("//aside//button[normalize-space()='Erase name and address']"));
  expect(await erase.isEnabled()).toBe(false);
  await box.sendKeys(Key.chord(Key.CONTROL, "a"), name);
  await pressIn(driver, SLIP, "Erase name and address");
  await textHolding(driver, SLIP, "Somebody who has left");
  await textHolding(driver, "#frame", "Their name and address were erased");
  expect(await driver.findElements(By.xpath("//button[normalize-space()='Take back']"))).toEqual([]);
  await driver.get(`${on.site.base}/ledger`);
  await textHolding(driver, "main", "Name erased");
});

test("a grant of any mix by its ticks, each bringing along what it needs and taking along what needs it", async () => {
  await driver.get(`${on.site.base}/grid?place=shorepower&tab=rules`);
  await textHolding(driver, "aside", "Grants that stand here");
  await pick(driver, "To whom", "Pilots");
  const level = await seen(driver, "select[aria-label=Level]");
  await level.sendKeys("Mix");
  const mix = "fieldset:has(> legend)";
  const tick = async (words: string) => (await driver.findElement(By.xpath(`//fieldset//label[contains(., "${words}")]/input`))).click();
  await tick("publish, take down");
  expect(await textHolding(driver, `${mix} [role=status]`, "publish")).toContain("read; write");
  await tick("write");
  expect(await textHolding(driver, `${mix} [role=status]`, "Reader")).toContain("Not: comment; write");
  await tick("comment");
  await tick("add pages beneath");
  await isAccessible(driver, "a mix");
  const buttons = await driver.findElements(By.xpath("//fieldset[legend='Add a grant']//button[normalize-space()='To the tray']"));
  await buttons.at(-1)?.click();
  await apply();
  expect(await textHolding(driver, "aside", "Pilots")).toContain("Pilots");
  await takeBack();
});

test("a space is called otherwise and lands elsewhere; its old address leads to the new one", async () => {
  await driver.get(`${on.site.base}/grid?place=quays&tab=life`);
  await pressIn(driver, "aside", "change name, address and more");
  const address = await seen(driver, "input[aria-label='Address: /read/…']");
  await address.sendKeys(Key.chord(Key.CONTROL, "a"), "Quays & more");
  await textHolding(driver, "form[aria-label='Name, address, purpose and more']", "small letters, digits and hyphens");
  await address.sendKeys(Key.chord(Key.CONTROL, "a"), "the-quays");
  await pressIn(driver, "form[aria-label='Name, address, purpose and more']", "To the tray");
  await pressIn(driver, "aside", "land elsewhere");
  await pick(driver, "Page to land on", "Berth plan");
  await apply();
  await textHolding(driver, "aside", "/read/the-quays");
  await driver.get(`${on.site.base}/read/quay-operations`);
  await textHolding(driver, "h1", "Berth plan");
  expect(new URL(await driver.getCurrentUrl()).pathname).toBe("/read/the-quays");
});

test("a password is set by a link from the outbox, changed by oneself, and sessions are ended one by one", async () => {
  await driver.get(`${on.site.base}/forgotten`);
  await (await seen(driver, "#email")).sendKeys("jonas@brinehaven.invalid", Key.ENTER);
  await textHolding(driver, "main", "mail is on its way");
  const link = await driver.wait(async () => {
    await driver.get(`${on.site.base}/house?part=outbox`);
    await textHolding(driver, "main", "Outbox");
    const found = /\/reset\/[\w-]+/.exec((await driver.executeScript("return document.querySelector('main').textContent")) as string);
    return found?.[0] ?? false;
  }, 15_000);
  await isAccessible(driver, "the outbox");
  await driver.get(`${on.site.base}${link}`);
  await (await seen(driver, "#password")).sendKeys("seventeen letters", Key.ENTER);
  await driver.manage().deleteAllCookies();
  await driver.get(`${on.site.base}/sign-in`);
  const signIn = async (password: string) => {
    await (await seen(driver, "#email")).sendKeys(Key.chord(Key.CONTROL, "a"), "jonas@brinehaven.invalid");
    await (await seen(driver, "#password")).sendKeys(password, Key.ENTER);
  };
  await signIn("seventeen letters");
  await driver.wait(async () => !(await driver.getCurrentUrl()).includes("/sign-in"), 30_000);
  await driver.get(`${on.site.base}/account`);
  await isAccessible(driver, "one's account");
  await (await seen(driver, "#before")).sendKeys("not this one at all");
  await (await seen(driver, "#password")).sendKeys("another seventeen", Key.ENTER);
  await textHolding(driver, "main", "That is not your password");
  await (await seen(driver, "#before")).sendKeys("seventeen letters");
  await (await seen(driver, "#password")).sendKeys("another seventeen", Key.ENTER);
  await textHolding(driver, "main", "Your password was changed");
  await driver.get(`${on.site.base}${link}`);
  await textHolding(driver, "main", "This link does not work");
});
