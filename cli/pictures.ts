/** `npm run pictures`: one picture of each main view, from the demo data, into docs/screenshots. */
// First: everything in the pictures is of the instant the kept demo was made for.
import "./testing/beforeFile.ts";
import { mkdirSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { By, Key, type WebDriver } from "selenium-webdriver";
import { openBrowser, pick, pressIn, seen, signInAs, signOut, textHolding, textToWrite } from "../test/browser/driver.ts";
import { openSite } from "./testing/site.ts";

const FOLDER = process.env.TESORO_PICTURES ?? fileURLToPath(new URL("../docs/screenshots", import.meta.url));
const settle = (ms = 350) => new Promise((later) => setTimeout(later, ms));

type Picture = (name: string) => Promise<void>;

/** A new space, as it is chosen how open it shall be. */
async function aNewSpace(driver: WebDriver, base: string, picture: Picture): Promise<void> {
  await driver.get(`${base}/spaces/new`);
  await (await seen(driver, "input[aria-label='What it is called']")).sendKeys("Ice Season");
  await (await driver.findElements(By.css("input[name=preset]")))[2]?.click();
  await pick(driver, "Writers", "Pilots");
  await settle(1200);
  await picture("space");
}

/** What is outside: what the public reads, what looks sensitive, guests. */
async function outsidePictures(driver: WebDriver, base: string, picture: Picture): Promise<void> {
  await driver.get(`${base}/outside`);
  await textHolding(driver, "main", "Patrols on cruise days");
  await picture("outside");
  await driver.get(`${base}/outside?part=findings`);
  await textHolding(driver, "main", "The lorry on the ramp");
  await picture("findings");
  await driver.get(`${base}/outside?part=guests`);
  await textHolding(driver, "[role=grid]", "Anders Holm");
  await (await seen(driver, "[role=row][data-row='3']")).click();
  await settle(800);
  await picture("guests");
}

/** The table of pages, people, the sheet of an act; ends signed in as who keeps the quays. */
async function lifePictures(driver: WebDriver, base: string, picture: Picture): Promise<void> {
  await signInAs(driver, base, "ines", "/pages?columns=title,state,owner,changed,outside,views,readiness");
  await textHolding(driver, "[role=grid]", "Harbour Notices");
  await picture("pages");
  await driver.get(`${base}/people?sort=owns`);
  await textHolding(driver, "[role=grid]", "Keeper");
  await picture("people");
  await aNewSpace(driver, base, picture);
  await signOut(driver);

  await signInAs(driver, base, "maren", "/grid?place=berthplan&tab=life&act=bin");
  await textHolding(driver, "[role=dialog]", "What breaks");
  await (await seen(driver, "[role=dialog] input[type=radio]")).click();
  await settle(800);
  await picture("act");
}

/** The workbench, a draft on it with its publish sheet, two versions of a page. */
async function writingPictures(driver: WebDriver, base: string, picture: Picture): Promise<void> {
  await driver.get(`${base}/workbench`);
  await textHolding(driver, "main", "Ferry mornings");
  await picture("workbench");
  await driver.get(`${base}/workbench/benchice`);
  await (await textToWrite(driver)).sendKeys(Key.chord(Key.CONTROL, Key.END), " Their list ends with ruth.abernethy@brinehaven.example.");
  await pressIn(driver, "aside", "Place or publish …");
  await (await seen(driver, "[data-place=quays]")).click();
  await textHolding(driver, "section[aria-label=Helpers]", "Mei Lin");
  await settle(800);
  await picture("publish");
  await driver.get(`${base}/versions/berthplan?from=1.0&to=4.0`);
  await textHolding(driver, "section[aria-label=Text]", "Passages");
  await picture("versions");
}

async function takePictures(driver: WebDriver, base: string): Promise<void> {
  const only = process.argv.slice(2);
  const picture: Picture = async (name) => {
    if (only.length > 0 && !only.includes(name)) return;
    await settle();
    writeFileSync(`${FOLDER}/${name}.png`, Buffer.from(await driver.takeScreenshot(), "base64"));
    console.log(name);
  };
  await driver.get(`${base}/read/pilotage-tides/tide-tables-tidetables`);
  await picture("reader-page");

  await signInAs(driver, base, "ines", "/desk");
  await textHolding(driver, "main", "Growing old");
  await settle(2_500);
  await picture("desk");
  await driver.get(`${base}/routines?routine=duesoon`);
  await textHolding(driver, "main", "Today it would touch");
  await picture("routines");
  await driver.get(`${base}/reads?weeks=60`);
  await textHolding(driver, "main", "Read but stale");
  await settle(800);
  await picture("reads");
  await driver.get(`${base}/grid?columns=public,guests,members,group:operations,person:dora`);
  await textHolding(driver, "[role=treegrid]", "Harbour Notices");
  await picture("grid");
  await outsidePictures(driver, base, picture);
  await driver.get(`${base}/house?part=pledges`);
  await textHolding(driver, "ul[aria-label=Pledges]", "Patrols on cruise days");
  await (await seen(driver, "select[aria-label=Who]")).sendKeys("guests");
  await (await seen(driver, "select[aria-label=Where]")).sendKeys("at and below");
  await pick(driver, "Which place", "Quay Operations");
  await pressIn(driver, "main", "Try it");
  await settle(800);
  await picture("pledges");
  await signOut(driver);

  await lifePictures(driver, base, picture);
  await driver.get(`${base}/grid?place=berthrequests&tab=rules`);
  await textHolding(driver, "[role=treegrid]", "Berth plan");
  await textHolding(driver, "aside", "Grants that stand here");
  await picture("slip");
  await writingPictures(driver, base, picture);
  await driver.get(`${base}/review`);
  await (await seen(driver, '[data-page="residents"]')).click();
  await textHolding(driver, "[aria-label='The page']", "forty nights");
  await picture("review");
  await driver.get(`${base}/ledger`);
  await textHolding(driver, "main", "Older entries");
  await (await driver.findElements(By.css("ol > li button[aria-expanded]")))[0]?.click();
  await picture("ledger");
}

mkdirSync(FOLDER, { recursive: true });
const site = process.env.TESORO_AT ? { base: process.env.TESORO_AT, close: async () => {} } : await openSite();
const browser = await openBrowser();
try {
  await takePictures(browser.driver, site.base);
} finally {
  await browser.close();
  await site.close();
}
