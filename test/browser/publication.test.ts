/** Writing and publishing without fear: the workbench, two people on one page, approval, versions, times that come due while nobody serves. */
import { eq } from "drizzle-orm";
import { By, Key, type WebDriver } from "selenium-webdriver";
import type { Driver } from "selenium-webdriver/chrome.js";
import { beforeAll, expect, test } from "vitest";
import { serve } from "../../cli/serving.ts";
import type { SpaceSettings } from "../../src/core/access/model/index.ts";
import { database, inChange } from "../../src/server/db/client.ts";
import { schedules } from "../../src/server/db/schema/index.ts";
import { makeChange } from "../../src/server/services/change/apply.ts";
import { readSlip } from "../../src/server/services/slip/slip.ts";
import {
  type Browser,
  openBrowser,
  pick,
  pressIn,
  pressKeys,
  seen,
  signInAs,
  signOut,
  textHolding,
  textToWrite,
  withText,
} from "./driver.ts";
import { isAccessible, stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

const END = Key.chord(Key.CONTROL, Key.END);
const aside = (words: string, at = driver) => textHolding(at, "aside", words);

/** Types at the end of the text, once it can be typed. */
async function type(words: string, at = driver): Promise<void> {
  await (await textToWrite(at)).sendKeys(END, words);
  await textHolding(at, ".prose", words.trim());
}

async function save(at = driver): Promise<void> {
  await pressIn(at, "aside", "Save a version");
  await aside("Saved as version", at);
}

/** Another server takes the place of the one that went away. */
async function serveAgain(): Promise<void> {
  const served = await serve(on.site.databaseUrl, "127.0.0.1", Number(new URL(on.site.base).port), process.env.TESORO_SECRET ?? "");
  on.site.pid = served.pid;
  const { close } = on.site;
  on.site.close = async () => {
    await served.stop();
    await close();
  };
}

async function killServer(): Promise<void> {
  process.kill(on.site.pid, "SIGKILL");
  const answers = () =>
    fetch(`${on.site.base}/robots.txt`).then(
      () => true,
      () => false,
    );
  while (await answers()) await new Promise((later) => setTimeout(later, 50));
}

const idOfPage = async () => (await driver.getCurrentUrl()).split("/").at(-1) ?? "";

test("a draft on the workbench with two helpers goes live in a space at its time, though the server was down, and they are out again", async () => {
  await signInAs(driver, on.site.base, "maren", "/pages");
  await textHolding(driver, "nav[aria-label=Parts]", "On your workbench");
  await (await seen(driver, "body")).sendKeys("+");
  await (await seen(driver, "#title")).sendKeys("Ice watch at the outer quay");
  await (await withText(driver, "button", "Start writing")).click();
  await type("Ask ruth.abernethy@brinehaven.example. ");
  for (const name of ["Jonas Brandt", "Mei Lin"]) {
    await pressIn(driver, "section[aria-label=Helpers]", "let somebody in");
    await pick(driver, "Whom to let in", name);
    await textHolding(driver, "section[aria-label=Helpers]", name);
  }
  await (await seen(driver, "section[aria-label=Helpers] li:first-child label:last-child input")).click();
  await save();
  await isAccessible(driver, "a private draft");
  const draft = await driver.getCurrentUrl();
  await signOut(driver);

  await signInAs(driver, on.site.base, "viktor", new URL(draft).pathname);
  await textHolding(driver, "main", "There is nothing here, or it is not open to you");
  await signOut(driver);
  await signInAs(driver, on.site.base, "jonas", "/workbench");
  await textHolding(driver, "main", "Maren Lüders let you in to write");
  await isAccessible(driver, "the workbench");
  await (await withText(driver, "a", "Ice watch at the outer quay")).click();
  await type("Measured at noon.");
  await save();
  await signOut(driver);

  await signInAs(driver, on.site.base, "maren", new URL(draft).pathname);
  await pressIn(driver, "aside", "Place or publish …");
  const sensitive = await textHolding(driver, "section[aria-label='What looks sensitive']", "1 place in the text looks sensitive");
  expect(sensitive).toContain("ruth.abernethy@brinehaven.example");
  const place = await seen(driver, "[data-place=quays]");
  await driver.actions().move({ origin: place }).perform();
  await textHolding(driver, "section[aria-label=Where] [role=status]", "In Quay Operations it would be read by");
  // Where one may not publish is shown, and says why.
  expect(await (await seen(driver, "[data-place=handbook]")).getAttribute("title")).toContain("You may not add pages here");
  await place.click();
  const helpers = await textHolding(driver, "section[aria-label=Helpers]", "Mei Lin");
  expect(helpers).toContain("Jonas Brandt");
  expect(await driver.findElements(By.css("section[aria-label=Helpers] input:checked"))).toHaveLength(2);
  await (await withText(driver, "label", "at a time")).click();
  await pressIn(driver, "section[aria-label=When]", "another zone");
  await pick(driver, "Zone", "Pacific/Kiritimati");
  const at = await seen(driver, "input[aria-label='Goes live']");
  await at.sendKeys("3 Dec 2027, 09:15", Key.ENTER);
  await isAccessible(driver, "the publish sheet");
  await pressIn(driver, "section[aria-label=Publish]", "Publish then");
  await driver.wait(async () => /\/write\/\w+$/.test(await driver.getCurrentUrl()), 30_000, "it is not placed");
  await aside("Scheduled");
  const page = await idOfPage();
  const [row] = await database().select().from(schedules).where(eq(schedules.placeId, page));
  expect([row?.at.toISOString(), row?.zone]).toEqual(["2027-12-02T19:15:00.000Z", "Pacific/Kiritimati"]);

  await killServer();
  await database()
    .update(schedules)
    .set({ at: new Date(Date.now() - 60_000) })
    .where(eq(schedules.placeId, page));
  await serveAgain();
  await driver.wait(
    async () => {
      await driver.get(`${on.site.base}/write/${page}`);
      return (await aside("Readers see")).includes("version 1.0");
    },
    60_000,
    "it does not go live",
  );
  await signOut(driver);
  // She reads it like everybody there, and writes it no more.
  await signInAs(driver, on.site.base, "mei", `/write/${page}`);
  await textHolding(driver, "main", "You may read this, but not write it");
  await driver.get(draft);
  await textHolding(driver, "main", "This draft was placed as a page");
  await signOut(driver);
}, 240_000);

test("sent back, changed, approved and published: each finds what waits for them", async () => {
  const before = (await readSlip("ines", "quays")).life.space?.settings as SpaceSettings;
  const edit = { kind: "settings" as const, place: "quays", remove: before, put: { ...before, approval: true } };
  await inChange((tx) => makeChange(tx, { maker: "ines", edits: [edit], act: "rules", note: "" }));
  await signInAs(driver, on.site.base, "jonas", "/write/new?in=quays");
  await (await seen(driver, "#title")).sendKeys("Winter lines");
  await (await withText(driver, "button", "Start writing")).click();
  await type("Two lines.");
  await save();
  await pressIn(driver, "section[aria-label=Approval]", "Give it in for approval");
  await textHolding(driver, "section[aria-label=Approval]", "it waits");
  expect(await (await seen(driver, "[data-publish]")).getAttribute("aria-disabled")).toBe("true");
  const page = await idOfPage();
  await signOut(driver);

  await signInAs(driver, on.site.base, "maren", "/pages");
  await pressIn(driver, "main", "Show what waits");
  await textHolding(driver, "[role=grid]", "Winter lines");
  await driver.get(`${on.site.base}/write/${page}`);
  await textHolding(driver, "section[aria-label=Approval]", "Jonas Brandt gave version 0.2 in");
  await (await seen(driver, "input[aria-label='What is to be known']")).sendKeys("Say how thick they are.");
  await pressIn(driver, "section[aria-label=Approval]", "Send it back");
  await textHolding(driver, "section[aria-label=Approval]", "Say how thick they are.");
  await signOut(driver);

  await signInAs(driver, on.site.base, "jonas", `/write/${page}`);
  await textHolding(driver, "section[aria-label=Approval]", "Maren Lüders sent version 0.2 back");
  await type(" As thick as an arm.");
  await save();
  await pressIn(driver, "section[aria-label=Approval]", "Give it in for approval");
  await textHolding(driver, "section[aria-label=Approval]", "it waits");
  await signOut(driver);

  await signInAs(driver, on.site.base, "maren", `/write/${page}`);
  await pressIn(driver, "section[aria-label=Approval]", "Approve");
  await textHolding(driver, "section[aria-label=Approval]", "Version 0.3 is approved");
  await isAccessible(driver, "a page that is approved");
  await pressIn(driver, "aside", "Publish …");
  await pressIn(driver, "section[aria-label=Publish]", "Publish now");
  await aside("Published as version 1.0");
  await signOut(driver);

  // What comes from a space that asks for nothing is given in on arrival, since its sheet asks how it arrives.
  await signInAs(driver, on.site.base, "ines", "/grid?place=bikes&tab=life&act=move");
  const sheet = "[role=dialog]";
  await textHolding(driver, sheet, "It goes with everything below it");
  await pick(driver, "Into which space or page", "Quay Operations");
  await textHolding(driver, sheet, "never approved there");
  await isAccessible(driver, "how a page arrives");
  await (await withText(driver, "label", "given in for approval")).click();
  await pressIn(driver, sheet, "Move");
  await textHolding(driver, "[role=status]", "moved");
  // The same of what fits a filter, as a job.
  await driver.get(`${on.site.base}/pages?part=live&words=Learning+a+language`);
  await driver.executeScript("arguments[0].focus()", await seen(driver, '[role=row][data-row="0"]'));
  await driver.switchTo().activeElement().sendKeys(Key.SPACE);
  await pressIn(driver, "section[aria-label='Chosen pages']", "all 1 that fit");
  await (await seen(driver, "section[aria-label='Chosen pages'] [data-act=move]")).click();
  await pick(driver, "Into which space or page", "Quay Operations");
  await textHolding(driver, sheet, "never approved there");
  await (await withText(driver, "label", "given in for approval")).click();
  await pressIn(driver, sheet, "Move");
  await textHolding(driver, "section[aria-label=Jobs]", "done: 1");
  await signOut(driver);
  await signInAs(driver, on.site.base, "maren", "/write/languages");
  await textHolding(driver, "section[aria-label=Approval]", "Ines Carvalho gave version 1.0 in");
  await driver.get(`${on.site.base}/write/bikes`);
  await textHolding(driver, "section[aria-label=Approval]", "Ines Carvalho gave version 1.0 in");
}, 120_000);

/**
 * On pages opened from now on: what they said of the pen on the way, in `penSaid`. It is picked up slowly there, as over a
 * poor connection.
 */
async function notePen(): Promise<() => Promise<void>> {
  const source = `{
    const { fetch } = window;
    window.penSaid = "";
    window.fetch = async (address, init) => {
      if (init?.method === "POST" && String(address).endsWith("/pen")) await new Promise((later) => setTimeout(later, 500));
      return fetch(address, init);
    };
    new MutationObserver(() => { window.penSaid += /.* the pen\\b.*/.exec(document.querySelector("aside")?.innerText ?? "")?.[0] ?? ""; })
      .observe(document, { childList: true, subtree: true });
  }`;
  const tab = driver as Driver;
  const { identifier } = (await tab.sendAndGetDevToolsCommand("Page.addScriptToEvaluateOnNewDocument", { source })) as unknown as {
    identifier: string;
  };
  return () => tab.sendDevToolsCommand("Page.removeScriptToEvaluateOnNewDocument", { identifier });
}

test("two people on one page: who has the pen is seen, it is asked for and handed over, and both texts are compared", async () => {
  const second: Browser = await openBrowser();
  const other = second.driver;
  try {
    const enough = await notePen();
    await driver.get(`${on.site.base}/write/mooring`);
    await type(" Maren's unsaved words.");
    await aside("Kept, not yet a version");
    // Nothing came and went above what she might have pressed while the pen was picked up.
    expect(await driver.executeScript("return penSaid")).toBe("");
    await enough();
    await signInAs(other, on.site.base, "jonas", "/write/mooring");
    await aside("Maren Lüders has the pen", other);
    expect(await other.findElements(By.css(".prose[contenteditable=true]"))).toHaveLength(0);
    await pressIn(other, "aside", "Ask for it");
    await aside("Jonas Brandt asks for the pen");
    // He goes to the text before he may write it, and need not go there again.
    await (await seen(other, ".prose")).click();
    await pressIn(driver, "aside", "Hand it over");
    await seen(other, ".prose[contenteditable=true]");
    await pressKeys(other, " Jonas's words.");
    await textHolding(other, ".prose", "Jonas's words.");
    await save(other);
    // What she typed is there, and nothing of it went over his.
    await aside("Jonas Brandt has the pen");
    expect(await (await seen(driver, ".prose")).getText()).toContain("Maren's unsaved words.");
    await pressIn(driver, "aside", "Take it");
    await aside("Maren Lüders has the pen", other);
    await pressIn(driver, "aside", "Save a version");
    await aside("Compare them");
    await pressIn(driver, "aside", "Compare them");
    const both = await textHolding(driver, "[aria-label='Theirs and yours']", "Jonas's words.");
    expect(both).toContain("Maren's unsaved words.");
    await isAccessible(driver, "both texts");
    await pressIn(driver, "[aria-label='Theirs and yours']", "Close");
    await pressIn(driver, "aside", "Save mine as the newest");
    await aside("Saved as version");
    // Whoever looks on sees what is saved.
    await textHolding(other, ".prose", "Maren's unsaved words.");
  } finally {
    await second.close();
  }
}, 120_000);

test("an old version is compared, read as it was, and taken up again", async () => {
  await driver.get(`${on.site.base}/versions/mooring`);
  await textHolding(driver, "section[aria-label=Text]", "Passages:");
  await isAccessible(driver, "versions compared");
  const [, , third] = await driver.findElements(By.css("[data-version]"));
  await third?.sendKeys("1");
  await driver.wait(async () => (await driver.getCurrentUrl()).includes("from="), 10_000);
  await (await seen(driver, "body")).sendKeys("s");
  await seen(driver, "section[data-as=side]");
  const old = (await third?.getAttribute("data-version")) ?? "";
  await textHolding(driver, "aside[aria-label='Beside the text']", `Take version ${old} up again`);
  await pressIn(driver, "aside[aria-label='Beside the text']", "Take it up again");
  await textHolding(driver, "ol", `Taken up again from version ${old}.`);
}, 60_000);

test("nothing typed is lost when the server is killed under it", async () => {
  await driver.get(`${on.site.base}/write/timberyard`);
  await type(" Before the fall.");
  await aside("Kept, not yet a version");
  await killServer();
  await type(" While nobody answered.");
  await aside("the server does not answer");
  await serveAgain();
  await aside("Kept, not yet a version");
  await driver.executeScript("localStorage.clear()");
  await driver.navigate().refresh();
  // From the server alone.
  expect(await textHolding(driver, ".prose", "While nobody answered.")).toContain("Before the fall.");
}, 120_000);
