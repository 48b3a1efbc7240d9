/** The stories of the people who use Tesoro, done with real clicks and keys on the demo. */
import { By, Key, type WebDriver } from "selenium-webdriver";
import { beforeAll, expect, test } from "vitest";
import { openBrowser, pick, seen, signInAs, signOut, textHolding, textToWrite, withText } from "./driver.ts";
import { isAccessible, stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

const cell = (place: string, column: string) => seen(driver, `[data-place="${place}"] [data-column="${column}"]`);
const cellSays = (place: string, column: string, words: string) =>
  textHolding(driver, `[data-place="${place}"] [data-column="${column}"]`, words);

async function button(words: string): Promise<void> {
  const element = await withText(driver, "button", words);
  await driver.wait(() => element.isEnabled(), 30_000, `"${words}" stays disabled`);
  await element.click();
}

async function read(path: string): Promise<string> {
  await driver.get(on.site.base + path);
  return (await seen(driver, "main")).getText();
}

const expectAccessible = (view: string): Promise<void> => isAccessible(driver, view);

test("a space keeper lowers the many and raises the few on a page, sees the ripple, applies, asks why, walks it, takes it back", async () => {
  await signInAs(driver, on.site.base, "maren", "/grid?columns=public,members,group:quay&words=Berth+plan");
  await cellSays("berthplan", "members", "Commenter");

  // The few first, by mouse; then the many, by keyboard.
  await (await cell("berthplan", "group:quay")).click();
  await button("Publisher");
  await cellSays("berthplan", "group:quay", "Publisher");
  const members = await cell("berthplan", "members");
  await driver.executeScript("arguments[0].focus()", members);
  await driver.switchTo().activeElement().sendKeys("1");
  await cellSays("berthplan", "members", "Reader");
  expect(await (await cell("berthplan", "members")).getText()).toContain("→");

  const bar = await textHolding(driver, "section[aria-label=Tray]", "members");
  expect(bar).toContain("1 change waits");
  await button("Look closer");
  await textHolding(driver, "section[aria-label=Tray]", "Quay Crew are Publisher");
  await (await seen(driver, "input[aria-label='Note for the ledger']")).sendKeys("While the plan is redone.");
  await button("Apply");
  await textHolding(driver, "div[role=status]", "Applied");

  await driver.executeScript("arguments[0].focus()", await cell("berthplan", "members"));
  await driver.switchTo().activeElement().sendKeys("w");
  await textHolding(driver, "aside", "is Reader here");
  await button("write");
  await textHolding(driver, "aside", "cannot write “Berth plan”");

  expect(await read("/eyes/public/read/quay-operations/berth-plan-berthplan")).toContain("There is nothing here");
  expect(await (await driver.findElement(By.css("[data-eyes]"))).getAttribute("data-eyes")).toBe("the public");

  await driver.get(`${on.site.base}/ledger`);
  expect(await textHolding(driver, "ol > li", "Berth plan")).toContain("Maren Lüders");
  await (await seen(driver, "ol > li button")).click();
  await textHolding(driver, "ol > li", "While the plan is redone.");
  await button("Take back");
  await textHolding(driver, "ol > li", "Taking it back would do this today");
  await button("Take back now");
  await textHolding(driver, "ol > li", "Took back entry");
  await driver.get(`${on.site.base}/grid?columns=public,members,group:quay&words=Berth+plan`);
  await cellSays("berthplan", "members", "Commenter");
});

test("a publisher writes a draft with a link, publishes it, and a guest who may reads it, one who may not does not", async () => {
  await signOut(driver);
  await signInAs(driver, on.site.base, "jonas", "/grid?place=berthrequests");
  await (await withText(driver, "a", "Start a page here")).click();
  await (await seen(driver, "#title")).sendKeys("Night berths");
  await button("Start writing");
  await (await textToWrite(driver)).sendKeys("Ships over 180 metres tell us by noon. See ");
  await (await seen(driver, "button[aria-label='Link to a page']")).click();
  await (await seen(driver, "input[aria-label='Link to a page']")).sendKeys("Berth pl");
  await textHolding(driver, "[role=toolbar]", "Berth plan");
  await (await seen(driver, "input[aria-label='Link to a page']")).sendKeys(Key.ENTER);
  await textHolding(driver, ".prose", "Berth plan");
  await textHolding(driver, "aside", "Kept, not yet a version");
  await button("Save a version");
  await textHolding(driver, "aside", "Saved as version 0.2");
  const id = (await driver.getCurrentUrl()).split("/").at(-1) ?? "";
  const address = `/read/quay-operations/night-berths-${id}`;

  await signOut(driver);
  await signInAs(driver, on.site.base, "dora", "/");
  expect(await read(address)).toContain("There is nothing here");

  await signOut(driver);
  await signInAs(driver, on.site.base, "jonas", `/write/${id}`);
  await button("Publish");
  const sheet = await textHolding(driver, "section[aria-label=Publish]", "Guests");
  expect(sheet).toContain("will not see it");
  // A Publisher without Keeper learns how many guests, not who they are.
  expect(sheet).toMatch(/Guests\s+\d+/);
  expect(sheet).not.toContain("Dóra Szabó");
  expect(sheet).toContain("leads nowhere");
  await button("Publish now");
  await textHolding(driver, "aside", "Published as version 1.0");

  await signOut(driver);
  await signInAs(driver, on.site.base, "dora", "/");
  const text = await read(address);
  expect(text).toContain("Ships over 180 metres");
  expect(await driver.findElements(By.css(".closed-link"))).toHaveLength(1);
  await signOut(driver);
  await signInAs(driver, on.site.base, "bert", "/");
  expect(await read(address)).toContain("There is nothing here");
  await signOut(driver);
  expect(await read(address)).toContain("There is nothing here");
});

test("rules are edited in the slip; a change that breaks a pledge is stopped, and the second of two keepers loses nothing", async () => {
  await signInAs(driver, on.site.base, "ruth", "/grid?place=inquiry12&tab=rules");
  await textHolding(driver, "aside", "Grants that stand here");
  await pick(driver, "To whom", "the public");
  await (await withText(driver, "button", "To the tray")).click();
  await textHolding(driver, "section[aria-label=Tray]", "This breaks a pledge");
  expect(await (await withText(driver, "button", "Apply")).isEnabled()).toBe(false);
  await button("Throw away");

  // Two keepers prepare the same change; one applies it first.
  const other = await openBrowser();
  try {
    const prepare = async (at: WebDriver, person: string) => {
      await signInAs(at, on.site.base, person, "/grid?place=drills&tab=rules");
      await pick(at, "To whom", "Pilots");
      await (await withText(at, "button", "To the tray")).click();
      await textHolding(at, "section[aria-label=Tray]", "members gain");
      await (await seen(at, "input[aria-label='Note for the ledger']")).sendKeys(`By ${person}`);
    };
    await signOut(driver);
    await prepare(driver, "ruth");
    await prepare(other.driver, "ines");
    await button("Apply");
    await textHolding(driver, "div[role=status]", "Applied");
    await (await withText(other.driver, "button", "Apply")).click();
    await textHolding(other.driver, "section[aria-label=Tray]", "by Ruth Abernethy");
    expect(await (await seen(other.driver, "input[aria-label='Note for the ledger']")).getAttribute("value")).toBe("By ines");
    await textHolding(other.driver, "aside", "Pilots");
  } finally {
    await other.close();
  }
});

test("two writers on one page: a save over somebody's newer version is refused and both stay", async () => {
  const other = await openBrowser();
  try {
    await signOut(driver);
    await signInAs(driver, on.site.base, "maren", "/write/cranes");
    await signInAs(other.driver, on.site.base, "jonas", "/write/cranes");
    const type = async (at: WebDriver, words: string) => {
      await (await textToWrite(at)).sendKeys(Key.chord(Key.CONTROL, Key.END), ` ${words}`);
    };
    // The pen goes to and fro while there are words of both that are in no version.
    await textHolding(other.driver, "aside", "Maren Lüders has the pen");
    await (await withText(other.driver, "button", "Take it")).click();
    await type(other.driver, "Words of Jonas.");
    await textHolding(driver, "aside", "Jonas Brandt has the pen");
    await (await withText(driver, "button", "Take it")).click();
    await type(driver, "Words of Maren.");
    await button("Save a version");
    await textHolding(driver, "aside", "Saved as version");
    await (await withText(other.driver, "button", "Take it")).click();
    await (await withText(other.driver, "button", "Save a version")).click();
    await textHolding(other.driver, "aside", "Maren Lüders saved version");
    await (await withText(other.driver, "button", "Keep mine as a version")).click();
    await textHolding(other.driver, ".prose", "Words of Maren.");
    await other.driver.get(`${on.site.base}/grid?place=cranes&tab=life`);
    const life = await textHolding(other.driver, "aside", "Continued from version");
    expect(life).toContain("Jonas Brandt");
  } finally {
    await other.close();
  }
});

test("every main view is accessible in both themes, and no script error is logged", async () => {
  const views = [
    "/",
    "/read/harbour-notices",
    "/sign-in",
    "/grid?place=welcome&tab=rules",
    "/grid?place=shiftbook&column=members&tab=why",
    "/ledger",
    "/write/closures",
    "/versions/closures",
    "/workbench",
    "/eyes/public",
  ];
  await signOut(driver);
  await signInAs(driver, on.site.base, "ines", "/");
  for (const theme of ["light", "dark"]) {
    await driver.manage().addCookie({ name: "theme", value: theme, path: "/" });
    for (const view of views) {
      await driver.get(on.site.base + view);
      await seen(driver, "main");
      if (/grid|ledger|write/.test(view))
        await driver.wait(async () => (await driver.findElements(By.css("[role=treegrid], ol > li, .prose"))).length > 0, 30_000);
      await expectAccessible(`${view} (${theme})`);
    }
  }
  const log = await driver.manage().logs().get("browser");
  // What a page still asks while somebody signs out of it: to lay down its pen, to look at the page once more.
  const meant = (line: string) => line.includes("404") || /\/api\/pages\/\w+(?:\/pen)? - .*401/.test(line);
  expect(log.filter((line) => line.level.name === "SEVERE" && !meant(line.message)).map((line) => line.message)).toEqual([]);
});
