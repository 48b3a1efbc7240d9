/** What keepers of a space arrange: what its readers find, what its pages are begun from, what of the past can be read. */
import { By, Key, type WebDriver } from "selenium-webdriver";
import { beforeAll, expect, test } from "vitest";
import { applyTray, pick, pressIn, seen, signInAs, takeBackLast, textHolding, withText } from "./driver.ts";
import { isAccessible, stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

/** The lines of a list as they are at one moment: while they are drawn anew, single elements go. */
const textsOf = (selector: string): Promise<string[]> =>
  driver.executeScript("return [...document.querySelectorAll(arguments[0])].map((it) => it.innerText)", selector);
const linesIn = () => textsOf("ul[aria-label='Contents as readers get them'] li");
const readersFind = async () => {
  await driver.get(`${on.site.base}/read/quay-operations`);
  return textsOf("nav[aria-label='This space'] ul:first-of-type li");
};

test("a page that is listed twice is pointed out and taken out; an address and a heading come in, one moved by keys; all taken back", async () => {
  await signInAs(driver, on.site.base, "maren", "/grid?place=quays&tab=life");
  await (await seen(driver, "a[href='/spaces/contents?space=quays']")).click();
  await textHolding(driver, "ul[aria-label='Looks wrong']", "“Berth requests from agents” is listed twice");
  await isAccessible(driver, "contents of a space");
  const before = await linesIn();
  await pressIn(driver, "ul[aria-label='Looks wrong']", "take the entry out");
  await textHolding(driver, "section[aria-label='As readers get it']", "Nothing looks wrong");
  await pressIn(driver, "main", "an address");
  await (await seen(driver, "input[aria-label='What it is called']")).sendKeys("Weather at sea");
  const address = await seen(driver, "input[aria-label='Address, as https://…']");
  await address.sendKeys("javascript:alert(1)");
  await textHolding(driver, "main", "An address of the web, of mail or telephone");
  await address.sendKeys(Key.chord(Key.CONTROL, "a"), "https://weather.invalid/", Key.ENTER);
  await pressIn(driver, "main", "a heading");
  await (await seen(driver, "input[aria-label=Heading]")).sendKeys("Below nothing", Key.ENTER);
  await textHolding(driver, "main", "Below nothing");
  // The last one goes up by one: then the address stands under it.
  const entries = await driver.findElements(By.css("ol[aria-label^='Arranged'] li"));
  await entries.at(-1)?.sendKeys(Key.chord(Key.ALT, Key.ARROW_UP));
  await driver.wait(async () => (await linesIn()).join("|").includes("Below nothing|Weather at sea"), 30_000, "the heading did not move");
  await pressIn(driver, "main", "To the tray");
  await applyTray(driver);
  const found = await readersFind();
  expect(found.filter((it) => it === "Berth requests from agents")).toHaveLength(1);
  expect(found.join("|")).toContain("Below nothing|Weather at sea");
  expect(await (await driver.findElement(By.linkText("Weather at sea"))).getAttribute("href")).toBe("https://weather.invalid/");
  await driver.get(`${on.site.base}/ledger?place=quays`);
  await textHolding(driver, "main", "Weather at sea");
  await (await seen(driver, "[data-seq] button, button[data-seq]")).click();
  await pressIn(driver, "main", "Take back");
  await pressIn(driver, "main", "Take back now");
  await driver.wait(async () => (await driver.findElements(By.xpath("//button[normalize-space()='Take back now']"))).length === 0, 30_000);
  await driver.get(`${on.site.base}/spaces/contents?space=quays`);
  await textHolding(driver, "ul[aria-label='Looks wrong']", "is listed twice");
  expect(await linesIn()).toEqual(before);
});

test("a template is made from a page, gets a blank, is saved, and a page is begun from it; then a space with pages of its own", async () => {
  await driver.get(`${on.site.base}/templates?in=quays`);
  await textHolding(driver, "main", "Near miss");
  await pressIn(driver, "main", "Make a template …");
  const form = "form[aria-label='A new template']";
  await (await seen(driver, `${form} input[aria-label='What it is called']`)).sendKeys("Berth sheet");
  await pick(driver, "From a page (left out: blank)", "Berth plan");
  await isAccessible(driver, "a new template");
  await pressIn(driver, form, "Make it");
  const title = await seen(driver, "textarea[aria-label=Title]");
  expect(await title.getAttribute("value")).toBe("Berth plan");
  await title.sendKeys(Key.chord(Key.CONTROL, "a"), "Berths on ‹date›");
  await pressIn(driver, "main", "who begins it");
  await textHolding(driver, "footer", "Kept, not yet a version");
  await isAccessible(driver, "a template");
  await pressIn(driver, "footer", "Save");
  await textHolding(driver, "footer", "Saved as version");
  await textHolding(driver, "section[aria-label=Templates]", "Filled in when it is used: the day, who begins it");
  await driver.get(`${on.site.base}/write/new?in=berthplan`);
  await (await driver.findElement(By.xpath("//label[contains(., 'Berth sheet')]/input"))).click();
  await isAccessible(driver, "starting a page");
  await (await driver.findElement(By.xpath("//button[normalize-space()='Start writing']"))).click();
  const begun = await (await seen(driver, "textarea[aria-label=Title]")).getAttribute("value");
  expect(begun).toMatch(/^Berths on \d+ \w{3} \d{4}$/);
  await textHolding(driver, "main", "Maren Lüders");

  await signInAs(driver, on.site.base, "ines", "/spaces/new");
  await (await seen(driver, "input[aria-label='What it is called']")).sendKeys("Ballast project");
  // The templates come after the blank page that is always there.
  await (await withText(driver, "label", "Rooms for a project")).click();
  await textHolding(driver, "main", "The first goes live");
  await pressIn(driver, "main", "Make the space");
  await driver.wait(async () => (await driver.getCurrentUrl()).includes("/grid?place="), 30_000, "the space was not made");
  await driver.get(`${on.site.base}/read/ballast-project`);
  await textHolding(driver, "h1", "About Ballast project");
});

test("rows are chosen, and one mix is wished for on all of them from the ladder's last step, by keys; taken back in one", async () => {
  await signInAs(driver, on.site.base, "maren", "/grid?columns=members,person:mei");
  await seen(driver, "[data-place=mooring]");
  for (const id of ["mooring", "timberyard"]) await (await seen(driver, `[data-place=${id}] [role=gridcell]`)).sendKeys(Key.SPACE);
  await textHolding(driver, "section[aria-label='Chosen rows']", "2 chosen");
  await (await seen(driver, "[data-place=mooring] [data-column='person:mei']")).sendKeys(Key.SPACE);
  await textHolding(driver, "[aria-label='Mei Lin on Mooring gangs']", "For the 2 rows that are chosen");
  await driver.switchTo().activeElement().sendKeys("x");
  await isAccessible(driver, "a mix on the ladder");
  await (await driver.findElement(By.xpath("//fieldset//label[contains(., 'rename, move')]/input"))).click();
  await pressIn(driver, "[aria-label='Mei Lin on Mooring gangs']", "Set this mix");
  await textHolding(driver, "section[aria-label=Tray]", "1 member gains on 2 places");
  await applyTray(driver);
  for (const id of ["mooring", "timberyard"]) {
    // The grid draws what was applied once it has read it.
    const label = () =>
      driver.executeScript(`return document.querySelector("[data-place=${id}] [data-column='person:mei']")?.ariaLabel ?? ""`);
    await driver.wait(async () => /mix/i.test((await label()) as string), 30_000, `no mix on ${id}`);
  }
  await takeBackLast(driver);
});

test("what a page said before is read where its space shows it, and nowhere else", async () => {
  await signInAs(driver, on.site.base, "mei", "/read/staff-handbook/x-leave");
  await (await driver.findElement(By.xpath("//summary[normalize-space()='What it said before']"))).click();
  await (await driver.findElement(By.linkText("Version 1"))).click();
  await textHolding(driver, "main", "It was replaced since");
  await isAccessible(driver, "an older version");
  const past = await driver.getCurrentUrl();
  await signInAs(driver, on.site.base, "ines", "/grid?place=handbook&tab=life");
  await pressIn(driver, "aside", "change name, address and more");
  await (await driver.findElement(By.xpath("//label[contains(., 'what it said before')]/input"))).click();
  await pressIn(driver, "form[aria-label='Name, address, purpose and more']", "To the tray");
  await applyTray(driver);
  await signInAs(driver, on.site.base, "mei", past.replace(on.site.base, ""));
  await textHolding(driver, "main", "There is nothing here");
  await signInAs(driver, on.site.base, "ines", past.replace(on.site.base, ""));
  await textHolding(driver, "main", "It was replaced since");
});
