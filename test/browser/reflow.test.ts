/** Where the room is small: telephones, 200 % zoom, paper; other scripts; and no script at all. */
import type { WebDriver } from "selenium-webdriver";
import type { Driver as ChromeDriver } from "selenium-webdriver/chrome.js";
import { beforeAll, expect, test } from "vitest";
import { publication } from "../publication.ts";
import { signInDemo } from "../system/signIn.ts";
import { seen, signInAs, signOut, textHolding } from "./driver.ts";
import { stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
let address = "";

const LONG = "Donaudampfschifffahrtselektrizitätenhauptbetriebswerkbauunterbeamtengesellschaft".repeat(3);

beforeAll(async () => {
  driver = on.browser.driver;
  // A page with everything that is hard to fit: a word without a break in title and text, a wide table, code, Hebrew.
  const cookie = await signInDemo(on.site.base, "ines");
  const post = async (path: string, body: object) => {
    const answer = await fetch(`${on.site.base}/api/${path}`, {
      method: "POST",
      headers: { cookie, origin: on.site.base, "content-type": "application/json" },
      body: JSON.stringify(body),
    });
    expect(answer.status, path).toBe(200);
    return answer.json();
  };
  const words = (text: string) => ({ type: "paragraph", content: [{ type: "text", text }] });
  const row = { type: "tableRow", content: Array.from({ length: 9 }, () => ({ type: "tableCell", content: [words(LONG.slice(0, 40))] })) };
  const body = {
    schema: 1,
    content: [
      words(LONG),
      words("שלום עולם, ברוכים הבאים"),
      { type: "table", content: [row] },
      { type: "codeBlock", content: [{ type: "text", text: LONG }] },
    ],
  };
  const { id } = await post("pages", { parent: "notices", as: "page", title: LONG.slice(0, 200) });
  await post(`pages/${id}`, { title: LONG.slice(0, 200), body, base: "0.1", note: LONG, spent: [] });
  const order = publication("0.2");
  const sheet = await post(`pages/${id}/publish/look`, order);
  await post(`pages/${id}/publish`, { ...order, note: LONG, seen: sheet.preview.seen });
  address = `/read/harbour-notices/x-${id}`;
});

async function width(pixels: number | null): Promise<void> {
  const chrome = driver as ChromeDriver;
  if (pixels === null) await chrome.sendDevToolsCommand("Emulation.clearDeviceMetricsOverride", {});
  else
    await chrome.sendDevToolsCommand("Emulation.setDeviceMetricsOverride", {
      width: pixels,
      height: 512,
      deviceScaleFactor: 1,
      mobile: false,
    });
}

const sideways = () => driver.executeScript("return document.documentElement.scrollWidth - document.documentElement.clientWidth");

test("reading fits 320 pixels, whatever the words", async () => {
  await signOut(driver);
  await width(320);
  for (const path of [
    "/",
    address,
    "/read/harbour-notices",
    "/read/pilotage-tides/tide-tables-tidetables",
    "/search?q=tide",
    "/sign-in",
    "/read/none/none",
  ]) {
    await driver.get(on.site.base + path);
    await seen(driver, "main");
    expect(await sideways(), path).toBe(0);
  }
});

test("the workplace fits 640 pixels", async () => {
  await signInAs(driver, on.site.base, "ines", "/ledger");
  await width(640);
  const views: [string, string, string][] = [
    ["/ledger", "ol", "Published"],
    ["/house?part=files", "main", "Bring back"],
    ["/house", "main", "House rules"],
    ["/write/closures", "aside", "Save a version"],
    ["/write/new?in=quays", "main", "Start writing"],
    ["/grid?place=shiftbook&tab=rules", "aside", "From above"],
    ["/pages?place=cranes", "aside", "Cranes"],
    ["/people?person=jonas", "aside", "Quay Crew"],
    ["/people?part=groups&open=agents", "aside", "Where it is granted what"],
    ["/eyes/public", "main", "What would"],
  ];
  for (const [path, selector, words] of views) {
    await driver.get(on.site.base + path);
    await textHolding(driver, selector, words);
    expect(await sideways(), path).toBe(0);
  }
  await width(null);
});

test("Hebrew runs from right to left, and paper shows the text alone", async () => {
  await driver.get(on.site.base + address);
  const direction =
    "return [...document.querySelectorAll('main p')].map((it) => [it.textContent.slice(0, 4), getComputedStyle(it).direction]).find(([words]) => words === 'שלום')[1]";
  expect(await driver.executeScript(direction)).toBe("rtl");
  await (driver as ChromeDriver).sendDevToolsCommand("Emulation.setEmulatedMedia", { media: "print" });
  const hidden =
    "return ['header', 'nav'].flatMap((it) => [...document.querySelectorAll(it)]).filter((it) => it.getClientRects().length > 0).length";
  expect(await driver.executeScript(hidden)).toBe(0);
  expect(await driver.executeScript("return document.querySelector('main h1').getClientRects().length > 0")).toBe(true);
  await (driver as ChromeDriver).sendDevToolsCommand("Emulation.setEmulatedMedia", { media: "" });
});

test("without script the workplace says so and leads to reading; a guest who finds a page gets to it", async () => {
  const answer = await fetch(`${on.site.base}/grid`, { headers: { cookie: await signInDemo(on.site.base, "ines") } });
  expect(await answer.text()).toMatch(/<noscript>.*switched off.*href="\/".*<\/noscript>/s);
  await signOut(driver);
  await signInAs(driver, on.site.base, "dora", "/");
  await driver.get(`${on.site.base}/write/berthrequests`);
  const box = await seen(driver, "input[role=combobox]");
  await box.sendKeys("Berth req");
  await textHolding(driver, "#found", "page in");
  await (await seen(driver, "#found [role=option]")).click();
  await textHolding(driver, "h1", "Berth requests");
});
