/** A headless Chromium for the browser tests and the pictures. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { Builder, By, Key, until, type WebDriver, type WebElement } from "selenium-webdriver";
import { type Driver, Options, ServiceBuilder } from "selenium-webdriver/chrome.js";
import { shifting } from "../../cli/testing/clock.mjs";

const FLAGS = [
  "--headless",
  "--no-sandbox",
  "--disable-gpu",
  "--in-process-gpu",
  // No page lives long enough to gain by what is optimised.
  "--js-flags=--no-opt",
  "--disable-quic",
  "--no-first-run",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
  "--hide-scrollbars",
  "--force-color-profile=srgb",
];

export interface Browser {
  driver: WebDriver;
  close(): Promise<void>;
}

/** In this tab every document's clock goes as that of the test and of its server. */
async function shareClock(driver: WebDriver): Promise<void> {
  // What a loader of TypeScript puts round functions to keep their names is not there in a page.
  const source = `{ const __name = (it) => it; (${shifting})(globalThis, ${Number(process.env.TESORO_CLOCK_SHIFT ?? 0)}); }`;
  await (driver as Driver).sendDevToolsCommand("Page.addScriptToEvaluateOnNewDocument", { source });
}

/** Opens a browser of its own, with an empty profile, at 1280×800 unless said otherwise. */
export async function openBrowser(size = { width: 1280, height: 800 }): Promise<Browser> {
  const profile = mkdtempSync(join(tmpdir(), "tesoro-browser-"));
  const options = new Options();
  options.addArguments(...FLAGS, `--user-data-dir=${profile}`, `--window-size=${size.width},${size.height}`);
  options.setChromeBinaryPath(fileURLToPath(new URL("./chromium.sh", import.meta.url)));
  const driver = await new Builder()
    .forBrowser("chrome")
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder("/usr/bin/chromedriver"))
    .build();
  await shareClock(driver);
  // The window's size includes a frame; what is asked for is the page's.
  const inner = (await driver.executeScript("return [innerWidth, innerHeight]")) as [number, number];
  await driver
    .manage()
    .window()
    .setRect({ width: 2 * size.width - inner[0], height: 2 * size.height - inner[1] });
  return {
    driver,
    close: async () => {
      await driver.quit();
      rmSync(profile, { recursive: true, force: true });
    },
  };
}

/** Opens a new tab of the same browser and goes on in it. */
export async function openTab(driver: WebDriver): Promise<void> {
  await driver.switchTo().newWindow("tab");
  await shareClock(driver);
}

/** On a machine that is busy with others a page may take long; what never comes is noticed all the same. */
const PATIENCE = 30_000;

/** Waits for an element and returns it. */
export const seen = async (driver: WebDriver, selector: string): Promise<WebElement> => {
  const element = await driver.wait(until.elementLocated(By.css(selector)), PATIENCE, `nothing fits ${selector}`);
  await driver.wait(until.elementIsVisible(element), PATIENCE, `${selector} stays hidden`);
  return element;
};

/** The text of a page, clicked and ready to be typed in: its editor comes when somebody goes to it. */
export async function textToWrite(driver: WebDriver): Promise<WebElement> {
  await (await seen(driver, ".prose")).click();
  return seen(driver, ".prose[contenteditable=true]");
}

/** Waits for an element whose own text holds some words. */
export const withText = (driver: WebDriver, tag: string, words: string): Promise<WebElement> =>
  driver.wait(
    until.elementLocated(By.xpath(`//${tag}[contains(normalize-space(.), ${JSON.stringify(words)})]`)),
    PATIENCE,
    `no ${tag} says "${words}"`,
  ) as Promise<WebElement>;

/** How often one looks again for what is not there yet. */
const AGAIN = 50;

/** The text of an element as the browser itself gives it: to look again and again costs next to nothing, unlike `getText`. */
const INNER = "return document.querySelector(arguments[0])?.innerText ?? ''";

/** Waits until the text of an element holds some words; returns it whole. */
export async function textHolding(driver: WebDriver, selector: string, words: string): Promise<string> {
  const end = Date.now() + PATIENCE;
  const plain = (text: string) => text.replaceAll(/\s+/g, " ");
  for (;;) {
    const there = (await driver.executeScript(INNER, selector)) as string;
    if (plain(there).includes(plain(words))) {
      const [element] = await driver.findElements(By.css(selector));
      // An element that was replaced while we looked has no text any more: look again.
      const text = element ? await element.getText().catch(() => "") : "";
      if (text.includes(words)) return text;
    }
    if (Date.now() > end) throw new Error(`${selector} never said "${words}"; it says "${there}"`);
    await new Promise((later) => setTimeout(later, AGAIN));
  }
}

/** Keys, to whatever has the focus. */
export const pressKeys = (driver: WebDriver, ...keys: string[]): Promise<void> =>
  driver
    .actions()
    .sendKeys(...keys)
    .perform();

/** The first button that says just this and can be pressed. */
const BUTTON = `return [...document.querySelectorAll(arguments[0])]
  .find((it) => it.innerText.replace(/\\s+/g, " ").trim() === arguments[1] && !it.disabled && it.ariaDisabled !== "true" && it.checkVisibility()) ?? null`;

/** Presses a button once it can be pressed. */
export async function pressIn(driver: WebDriver, within: string, words: string): Promise<void> {
  await driver.wait(
    async () => {
      const button = (await driver.executeScript(BUTTON, `${within} button`, words)) as WebElement | null;
      return button ? button.click().then(() => true) : false;
    },
    PATIENCE,
    `"${words}" cannot be pressed`,
    AGAIN,
  );
}

/** Chooses somebody in a picker: types the name, waits until it is found, takes it with Enter. */
export async function pick(driver: WebDriver, label: string, name: string): Promise<void> {
  const box = await seen(driver, `input[aria-label=${JSON.stringify(label)}]`);
  await box.sendKeys(name);
  await textHolding(driver, `ul[aria-label=${JSON.stringify(label)}] li[aria-selected=true]`, name);
  await box.sendKeys(Key.ENTER);
}

/** Applies what waits in the tray. */
export async function applyTray(driver: WebDriver): Promise<void> {
  await pressIn(driver, "section[aria-label=Tray]", "Apply");
  await textHolding(driver, "div[role=status]", "Applied");
  await driver.wait(
    async () => (await driver.findElements(By.css("section[aria-label=Tray]"))).length === 0,
    PATIENCE,
    "the tray is not empty",
  );
}

/** Takes back what was applied last, by the line that offers it. */
export async function takeBackLast(driver: WebDriver): Promise<void> {
  await pressIn(driver, "[data-applied]", "Take back");
  await pressIn(driver, "[data-applied]", "Take back now");
  await textHolding(driver, "#frame", "was taken back");
}

/** Signs in through the demo's list, as somebody clicks it. */
export async function signInAs(driver: WebDriver, base: string, person: string, back = "/grid"): Promise<void> {
  await driver.get(`${base}/sign-in?back=${encodeURIComponent(back)}`);
  await (await seen(driver, `button[value="${person}"]`)).click();
  await driver.wait(async () => !(await driver.getCurrentUrl()).includes("/sign-in"), PATIENCE, "still on the sign-in page");
}

/** Signs out as the masthead does: the server ends the session, and every pen is laid down. */
export async function signOut(driver: WebDriver): Promise<void> {
  await driver.executeAsyncScript(
    "const done = arguments[0]; fetch('/sign-out', { method: 'POST', redirect: 'manual' }).then(() => done(), () => done());",
  );
  await driver.manage().deleteAllCookies();
}

/** The browser forgets its session, and no server knows: as when somebody else signs in on it. */
export const forgetSession = (driver: WebDriver): Promise<void> => driver.manage().deleteAllCookies();
