/** From an empty site to one that is in use, without a file or a command line, with the mouse; `foundingByKeys` is the same with keys alone. */
import { By, Key, type WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, expect, test } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { applyTray, type Browser, openBrowser, pick, pressIn, seen, textHolding } from "./driver.ts";
import { isAccessible } from "./story.ts";

const PASSWORD = "a password of length";
let site: TestSite;
let browser: Browser;
let guestBrowser: Browser;
let driver: WebDriver;
let guest: WebDriver;

beforeAll(async () => {
  site = await openSite("empty");
  [browser, guestBrowser] = [await openBrowser(), await openBrowser()];
  [driver, guest] = [browser.driver, guestBrowser.driver];
});
afterAll(async () => {
  await browser?.close();
  await guestBrowser?.close();
  await site?.close();
});

async function signIn(as: WebDriver, email: string, password = PASSWORD): Promise<void> {
  await as.get(`${site.base}/sign-in`);
  await (await seen(as, "#email")).sendKeys(email);
  await (await seen(as, "#password")).sendKeys(password, Key.ENTER);
  await as.wait(async () => !(await as.getCurrentUrl()).includes("/sign-in"), 30_000, "not signed in");
}

const type = async (label: string, text: string) => (await seen(driver, `input[aria-label=${JSON.stringify(label)}]`)).sendKeys(text);

const apply = () => applyTray(driver);
const PRESETS = ["Open house", "Common room", "Reading room", "Closed room"];

/** Makes a space in its view; leads to its row in the grid. */
async function makeSpace(name: string, preset: string, reads: RegExp): Promise<void> {
  await driver.get(`${site.base}/spaces/new`);
  await type("What it is called", name);
  const radios = await driver.findElements(By.css("input[name=preset]"));
  await radios[PRESETS.indexOf(preset)]?.click();
  await driver.wait(
    async () => reads.test((await (await seen(driver, "section[aria-label='How open it is']")).getText()).replace(/\s+/g, " ")),
    30_000,
    `${preset} was never shown`,
  );
  await pressIn(driver, "main", "Make the space");
  await driver.wait(async () => (await driver.getCurrentUrl()).includes("/grid?place="), 30_000, "the space was not made");
  await textHolding(driver, "[role=treegrid]", name);
}

/** Asks somebody in; the link that is shown once. */
async function askIn(who: string, { member = false, place, group }: { member?: boolean; place?: string; group?: string }): Promise<string> {
  await driver.get(`${site.base}/people/invite`);
  await (await seen(driver, "textarea")).sendKeys(who);
  if (member) await (await driver.findElements(By.css("input[name=kind]")))[1]?.click();
  if (place) await pick(driver, "To see: spaces or pages", place);
  if (group) await pick(driver, "Into groups", group);
  if (!member) await type("Until", `in 4 weeks${Key.ENTER}`);
  await pressIn(driver, "main", "Ask in");
  await textHolding(driver, "[role=status].notice", "asked in");
  return (await (await seen(driver, "input[aria-label^='Link for']")).getAttribute("value")) ?? "";
}

async function takeUp(link: string): Promise<void> {
  await guest.manage().deleteAllCookies();
  await guest.get(link);
  await (await seen(guest, "#password")).sendKeys(PASSWORD, Key.ENTER);
  await guest.wait(async () => !(await guest.getCurrentUrl()).includes("/join/"), 30_000, "the invitation was not taken up");
}

test("spaces, a nested group, members, guests and a pass, with the mouse: each sees exactly what was said", async () => {
  await signIn(driver, "ada@here.invalid");
  await driver.get(`${site.base}/grid`);
  await (await seen(driver, "main a.button.go")).click();
  await seen(driver, "section[aria-label='The space']");
  await isAccessible(driver, "a new space");
  await makeSpace("Front door", "Open house", /The public yes/);
  await makeSpace("Workshop", "Common room", /Any member yes yes yes/);
  await makeSpace("Vault", "Closed room", /Any member no/);

  await driver.get(`${site.base}/people?part=groups`);
  for (const [name, inside] of [
    ["Divers", ""],
    ["Crew", "Divers"],
  ] as const) {
    await pressIn(driver, "main", "A new group");
    await type("Name of the group", name);
    if (inside) await pick(driver, "Put in", inside);
    await pressIn(driver, "form[aria-label='A new group']", "To the tray");
    await apply();
    await textHolding(driver, "ul[aria-label=Groups]", name);
  }
  await takeUp(await askIn("Mia Berg <mia@here.invalid>", { member: true, group: "Divers" }));
  expect(await textHolding(guest, "main", "Workshop")).not.toContain("Vault");
  await takeUp(await askIn("Noor Haddad <noor@here.invalid>", { member: true }));
  await isAccessible(driver, "asked in");

  const first = await askIn("Gwen Guest <gwen@there.invalid>", { place: "Vault" });
  await takeUp(first);
  const seenByGuest = await textHolding(guest, "main", "Vault");
  expect(seenByGuest).toContain("Front door");
  expect(seenByGuest).not.toContain("Workshop");
  // A link works once.
  await guest.get(first);
  await textHolding(guest, "main", "This invitation does not work");
  await takeUp(await askIn("Gil Guest <gil@there.invalid>", { place: "Workshop" }));
  expect(await textHolding(guest, "main", "Workshop")).not.toContain("Vault");
});

test("a pass is made, used without an account, withdrawn, and opens nothing any more", async () => {
  await driver.get(`${site.base}/grid?words=Vault`);
  const rows = await driver.wait(async () => {
    const found = await driver.findElements(By.css("[role=row][data-place]"));
    return found.length >= 3 ? found : null;
  }, 30_000);
  const page = await rows?.at(-1)?.getAttribute("data-place");
  await driver.get(`${site.base}/grid?place=${page}&tab=rules`);
  await textHolding(driver, "aside", "No pass opens this page");
  await pressIn(driver, "aside", "Make a pass");
  await (await seen(driver, "section[aria-label^='A pass for'] input")).sendKeys("The surveyor");
  await pressIn(driver, "aside", "Make the pass");
  const link = (await (await seen(driver, "input[aria-label='The pass']")).getAttribute("value")) ?? "";
  await guest.manage().deleteAllCookies();
  await guest.get(link);
  expect(await textHolding(guest, "body", "You read this by a pass")).toContain("Vault");
  expect(await guest.manage().getCookies()).toEqual([]);
  await pressIn(driver, "aside", "I have it");
  await driver.get(`${site.base}/people?part=passes`);
  await textHolding(driver, "main", "used 1 time");
  await isAccessible(driver, "passes");
  const withdraw = await seen(driver, "button[aria-label^='Withdraw the pass The surveyor']");
  await driver.executeScript("arguments[0].focus()", withdraw);
  await driver.switchTo().activeElement().sendKeys(Key.ENTER);
  await textHolding(driver, "#frame", "was withdrawn: whoever holds it");
  await guest.get(link);
  await textHolding(guest, "main", "There is nothing here");
});

test("a ceiling closes a space to outsiders, whatever is granted in it; and opens again by taking that back", async () => {
  await guest.manage().deleteAllCookies();
  await guest.get(site.base);
  await textHolding(guest, "main", "Front door");
  await driver.get(`${site.base}/grid?words=Front`);
  await textHolding(driver, "[role=treegrid]", "Front door");
  const row = await seen(driver, "[role=row][data-place][aria-level='2']");
  await driver.get(`${site.base}/grid?place=${await row.getAttribute("data-place")}&tab=rules`);
  await (await seen(driver, "select[aria-label='The public and passes at most']")).sendKeys("Nothing");
  await textHolding(driver, "section[aria-label=Tray]", "the public and 1 pass lose");
  await apply();
  await guest.get(site.base);
  expect(await textHolding(guest, "body", "Sign in")).not.toContain("Front door");
  await pressIn(driver, "[data-applied]", "Take back");
  await pressIn(driver, "[data-applied]", "Take back now");
  await driver.wait(async () => {
    await guest.get(site.base);
    return (await (await seen(guest, "body")).getText()).includes("Front door");
  }, 30_000);
});

test("a member is seen off, and let back in by taking that back", async () => {
  await signIn(guest, "noor@here.invalid");
  await driver.get(`${site.base}/people?words=noor`);
  await textHolding(driver, "[role=grid]", "Noor Haddad");
  await (await seen(driver, "[data-row='0']")).click();
  await driver.actions().sendKeys(Key.ENTER).perform();
  await (await seen(driver, "aside a[href^='/people/leaving']")).click();
  await textHolding(driver, "main", "Noor Haddad leaves");
  await isAccessible(driver, "leaving");
  await pressIn(driver, "main", "See Noor Haddad off");
  await textHolding(driver, "main", "Done.");
  await guest.get(`${site.base}/account`);
  await seen(guest, "#email");
  await pressIn(driver, "[data-applied]", "Take back");
  await pressIn(driver, "[data-applied]", "Take back now");
  await textHolding(driver, "#frame", "was taken back");
  await signIn(guest, "noor@here.invalid");
  await guest.get(`${site.base}/account`);
  await textHolding(guest, "main", "Noor Haddad");
});
