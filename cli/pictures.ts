/** `npm run pictures`: one picture of each main view, from the demo data, into docs/screenshots. */
import { mkdirSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { By, Key, type WebDriver } from "selenium-webdriver";
import { openBrowser, seen, signInAs, signOut, textHolding, withText } from "../test/browser/driver.ts";
import { openDemoSite } from "./demoSite.ts";

const FOLDER = process.env.TESORO_PICTURES ?? fileURLToPath(new URL("../docs/screenshots", import.meta.url));
const settle = (ms = 350) => new Promise((later) => setTimeout(later, ms));

async function cell(driver: WebDriver, place: string, column: string) {
  return seen(driver, `[data-place="${place}"] [data-column="${column}"]`);
}

async function chooseLevel(driver: WebDriver, place: string, column: string, level: string): Promise<void> {
  await (await cell(driver, place, column)).click();
  await (await withText(driver, "button", level)).click();
  await settle(600);
}

type Picture = (name: string) => Promise<void>;

/** The table of pages, the bin, the sheet of an act; ends signed in as who keeps the quays. */
async function lifePictures(driver: WebDriver, base: string, picture: Picture): Promise<void> {
  await signInAs(driver, base, "ines", "/pages?columns=title,state,owner,changed,outside,views,readiness");
  await textHolding(driver, "[role=grid]", "Harbour Notices");
  await picture("pages");
  await driver.get(`${base}/pages?part=bin&columns=title,owner,left`);
  await textHolding(driver, "[role=grid]", "erasable from");
  await (await seen(driver, "[role=row][data-row='1']")).click();
  await settle(800);
  await picture("bin");
  await driver.get(`${base}/people?sort=owns`);
  await textHolding(driver, "[role=grid]", "Keeper");
  await picture("people");
  await driver.get(`${base}/people?part=groups&open=agents`);
  await textHolding(driver, "aside", "Where it is granted what");
  await picture("group");
  await signOut(driver);

  await signInAs(driver, base, "maren", "/grid?place=berthplan&tab=life&act=bin");
  await textHolding(driver, "[role=dialog]", "What breaks");
  await (await seen(driver, "[role=dialog] input[type=radio]")).click();
  await settle(800);
  await picture("act");
}

async function takePictures(driver: WebDriver, base: string): Promise<void> {
  const only = process.argv.slice(2);
  const picture: Picture = async (name) => {
    if (only.length > 0 && !only.includes(name)) return;
    await settle();
    writeFileSync(`${FOLDER}/${name}.png`, Buffer.from(await driver.takeScreenshot(), "base64"));
    console.log(name);
  };
  await driver.get(base);
  await picture("front-door");
  await driver.get(`${base}/read/pilotage-tides/tide-tables-tidetables`);
  await picture("reader-page");
  await driver.get(`${base}/search?q=tide`);
  await picture("search");
  await driver.get(`${base}/sign-in`);
  await picture("sign-in");

  await signInAs(driver, base, "ines", "/grid?columns=public,guests,members,group:operations,person:dora");
  await textHolding(driver, "[role=treegrid]", "Harbour Notices");
  await picture("grid");
  await driver.executeScript("document.documentElement.dataset.theme = 'dark'");
  await picture("grid-dark");
  await driver.get(`${base}/house`);
  await textHolding(driver, "main", "Access document");
  await driver.executeScript("document.documentElement.dataset.theme = 'light'");
  await (await seen(driver, "[aria-label='Name of a space, a page or a person']")).sendKeys("pilot");
  await settle(600);
  await picture("house");
  await signOut(driver);

  await lifePictures(driver, base, picture);
  await driver.get(`${base}/grid?place=berthrequests&tab=rules`);
  await textHolding(driver, "[role=treegrid]", "Berth plan");
  await textHolding(driver, "aside", "Grants that stand here");
  await picture("slip");
  await driver.get(`${base}/grid?columns=public,guests,members,group:quay`);
  await textHolding(driver, "[role=treegrid]", "Berth plan");
  await chooseLevel(driver, "berthplan", "members", "Reader");
  await chooseLevel(driver, "berthplan", "group:quay", "Writer");
  await (await withText(driver, "button", "In the tray")).click();
  await (await withText(driver, "button", "Look closer")).click();
  await picture("tray");
  await (await withText(driver, "button", "Throw away")).click();
  await driver.get(`${base}/grid?place=shiftbook&column=group:traffic&tab=why&columns=public,members,group:traffic`);
  await (await withText(driver, "button", "write")).click();
  await textHolding(driver, "aside", "does not admit them");
  await picture("why");
  await driver.get(`${base}/eyes/person:dora/read/quay-operations/berth-requests-from-agents-berthrequests`);
  await picture("viewpoint-walk");
  await driver.get(`${base}/write/shorepower`);
  const prose = await seen(driver, ".prose");
  await prose.click();
  await prose.sendKeys(Key.chord(Key.CONTROL, Key.END), " Ask the quay crew for the key to the cabinet.");
  await settle(2200);
  await picture("editor");
  await driver.get(`${base}/ledger`);
  await textHolding(driver, "main", "Older entries");
  await (await driver.findElements(By.css("ol > li button[aria-expanded]")))[0]?.click();
  await picture("ledger");
}

mkdirSync(FOLDER, { recursive: true });
const site = process.env.TESORO_AT ? { base: process.env.TESORO_AT, close: async () => {} } : await openDemoSite();
const browser = await openBrowser();
try {
  await takePictures(browser.driver, site.base);
} finally {
  await browser.close();
  await site.close();
}
