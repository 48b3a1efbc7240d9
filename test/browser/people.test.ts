/** People on screen: groups made, filled and changed with the mouse; somebody suspended with keys alone; and what members see of it. */
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

test("a group is made from a pasted list, another group put in, somebody taken out; each in the tray with its ripple, and taken back", async () => {
  await signInAs(driver, on.site.base, "ines", "/people?part=groups");
  await textHolding(driver, "ul[aria-label=Groups]", "Quay Crew");
  await isAccessible(driver, "groups");
  await pressIn(driver, "main", "A new group");
  await (await seen(driver, "form[aria-label='A new group'] input[aria-label='Name of the group']")).sendKeys("Night watch");
  await (await seen(driver, "form[aria-label='A new group'] textarea")).sendKeys("jonas brandt\nMei Lin; Nobody Of This Name\nPilots");
  await pressIn(driver, "main", "Take the list");
  const unclear = await textHolding(driver, "form[aria-label='A new group'] [role=status]", "left out");
  expect(unclear).toContain("Nobody Of This Name");
  expect(await textHolding(driver, "ul[aria-label='In it']", "Pilots")).toContain("Jonas Brandt");
  await isAccessible(driver, "a new group");
  await pressIn(driver, "form[aria-label='A new group']", "To the tray");
  await apply();
  const line = await textHolding(driver, "ul[aria-label=Groups]", "Night watch");
  expect(line).toMatch(/Night watch\s+\d+ people/);

  await (await driver.findElements(By.css("ul[aria-label=Groups] button"))).reduce<Promise<void>>(async (before, button) => {
    await before;
    if ((await button.getText()).startsWith("Night watch")) await button.click();
  }, Promise.resolve());
  await textHolding(driver, SLIP, "Jonas Brandt");
  await isAccessible(driver, "a group");
  await (await seen(driver, "button[aria-label='take out Jonas Brandt']")).click();
  await pick(driver, "Put in", "Dóra Szabó");
  expect(await textHolding(driver, SLIP, "put in, in the tray")).toContain("taken out, in the tray");
  await apply();
  await textHolding(driver, SLIP, "Dóra Szabó");
  expect(await textHolding(driver, SLIP, "A guest without an end: Dóra Szabó")).not.toContain("Jonas Brandt");
  await takeBack();
  await textHolding(driver, SLIP, "Jonas Brandt");

  await pressIn(driver, SLIP, "Take away");
  await textHolding(driver, SLIP, "taken away, in the tray");
  await apply();
  await driver.wait(async () => !(await (await seen(driver, "ul[aria-label=Groups]")).getText()).includes("Night watch"), 30_000);
});

test("with keys alone somebody is found, suspended and let back in; taking one's own change out of the tray leaves things as they are", async () => {
  await driver.get(`${on.site.base}/people?words=jonas`);
  const row = await seen(driver, "[data-row='0']");
  await textHolding(driver, "[role=grid]", "Jonas Brandt");
  await isAccessible(driver, "members");
  await driver.executeScript("arguments[0].focus()", row);
  await driver.switchTo().activeElement().sendKeys(Key.ENTER);
  await textHolding(driver, SLIP, "Quay Crew");
  await isAccessible(driver, "a person");
  const suspend = await seen(driver, `${SLIP} button.button`);
  await driver.executeScript("arguments[0].focus()", suspend);
  await driver.switchTo().activeElement().sendKeys(Key.ENTER);
  await textHolding(driver, SLIP, "suspended, in the tray");
  // Pressed again it is as it was, and nothing waits.
  await driver.switchTo().activeElement().sendKeys(Key.ENTER);
  await driver.wait(async () => !(await (await seen(driver, SLIP)).getText()).includes("in the tray"), 30_000);
  await driver.switchTo().activeElement().sendKeys(Key.ENTER);
  await textHolding(driver, SLIP, "suspended, in the tray");
  await apply();
  await textHolding(driver, "[role=grid]", "suspended");
  await takeBack();
  await driver.wait(async () => !(await (await seen(driver, "[role=grid]")).getText()).includes("suspended"), 30_000);
});

test("a member finds who is here and in which groups, and no control or number that is for site keepers", async () => {
  await signInAs(driver, on.site.base, "mei", "/people?sort=owns&state=out&person=jonas");
  await textHolding(driver, "[role=grid]", "Jonas Brandt");
  const heads = await (await seen(driver, "[role=grid] [role=row]")).getText();
  expect(heads.replace(/\s+/g, " ").trim()).toBe("Name Groups");
  const slip = await textHolding(driver, SLIP, "Quay Crew");
  expect(slip).not.toMatch(/Suspend|Until/);
  await driver.get(`${on.site.base}/people?part=groups&open=security`);
  expect(await textHolding(driver, SLIP, "Nothing, where you may see the rules")).not.toMatch(/take out|Rename/);
});
