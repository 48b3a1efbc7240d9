/** Writing as hands do it: every tool of the bar, pastes of every kind, several tabs and people on one browser, a server that is away. */
import { By, Key, type WebDriver } from "selenium-webdriver";
import type { Driver as ChromeDriver } from "selenium-webdriver/chrome.js";
import { beforeAll, expect, test } from "vitest";
import { forgetSession, openTab, pressIn, seen, signInAs, signOut, textHolding, textToWrite, withText } from "./driver.ts";
import { stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

const END = Key.chord(Key.CONTROL, Key.END);
const side = (words: string) => textHolding(driver, "aside[aria-label='This page']", words);
const prose = () => seen(driver, ".prose");
const text = async () => (await prose()).getText();

async function write(page: string): Promise<void> {
  await driver.get(`${on.site.base}/write/${page}`);
  await side("Save a version");
  await textToWrite(driver);
}

/** Pastes as the browser does when somebody copies from another program. */
async function paste(data: Record<string, string>): Promise<void> {
  await driver.executeScript(
    `const given = new DataTransfer();
     for (const [kind, words] of Object.entries(arguments[0])) given.setData(kind, words);
     document.querySelector(".prose").dispatchEvent(new ClipboardEvent("paste", { clipboardData: given, bubbles: true, cancelable: true }));`,
    data,
  );
}

/** The server has what was made, as it is: neither refused nor unanswered. */
async function taken(what: string): Promise<void> {
  const said = await side("Kept, not yet a version").catch((error: Error) => `${what}: ${error.message}`);
  expect(said, what).not.toContain("did not take");
  expect(said, what).not.toContain("never said");
}

const OFFICE = `<html xmlns:o="urn:schemas-microsoft-com:office:office"><body><!--StartFragment-->
<p class=MsoNormal style='mso-margin-top-alt:auto'><b>Depths</b><o:p></o:p></p>
<p class=MsoListParagraph style='text-indent:-18.0pt'><span style='mso-list:Ignore'>1.</span>Sound twice</p>
<table class=MsoTableGrid border=1><tr><td width=200 colspan=2 align=right style='width:150pt'>Berth</td></tr><tr><td rowspan=abc>4</td><td>9.1</td></tr></table>
<p>See <a href="file:///C:/plans/berth.doc">the plan</a>, <a href="ftp://harbour/x">the files</a>, <a href="page2.html">page two</a>, <a href="">this</a>.</p>
<h5>Small print</h5><h6>Smaller</h6><img src="file:///C:/a.png"><ol start="-3" type="Z"><li>one</li></ol><pre class="language-!!!?!">x  y</pre>
<!--EndFragment--></body></html>`;

const web = (
  base: string,
) => `<h1>Weather</h1><div><article><p>Read <a href="${base}/read/quay-operations/berth-plan-berthplan">the plan</a>
and <a href="https://example.org/x">elsewhere</a> <a href="javascript:alert(1)">or not</a>.</p><ul><li>a<ul><li>b<ol start=7><li>c</li></ol></li></ul></li></ul>
<blockquote><p>q</p></blockquote><hr><p dir=rtl>שלום עולם</p><svg><circle r=1></circle></svg><script>alert(1)</script><table><thead><tr><th align=center>x</th></tr></thead>
<tbody><tr><td><ul><li>in a cell</li></ul></td></tr></tbody></table></article></div>`;

const MARKDOWN =
  "# Tides\n\n1. first\n2. second\n   - deeper\n\n| when | height |\n| :--- | ---: |\n| noon | 3.1 |\n\n> said\n\n```js\nlet x;\n```\n\nwith **bold**, [a file](file:///x) and ![a chart](c.png)";

test("whatever the bar makes and a paste brings, the server takes, or it was said what was dropped", async () => {
  await signInAs(driver, on.site.base, "maren", "/write/cranes");
  await side("Save a version");
  await (await textToWrite(driver)).sendKeys(END, Key.ENTER, "Start.", Key.ENTER);
  const tools = await driver.findElements(By.css("[role=toolbar] > button"));
  const names = await Promise.all(tools.map((tool) => tool.getAttribute("aria-label")));
  expect(names).toContain("Callout");
  // Each tool alone on a new paragraph, then each within a table and within a list.
  for (const within of ["", "Table", "List"]) {
    for (const name of names.filter((it) => it !== "Link to a page" && it !== "Undo" && it !== "Redo")) {
      // Out of whatever the last tool made: the text always ends in a plain paragraph.
      await (await seen(driver, ".prose > p:last-child")).click();
      await (await prose()).sendKeys(Key.END, Key.ENTER);
      if (within) await (await seen(driver, `button[aria-label='${within}']`)).click();
      await (await prose()).sendKeys("w");
      const tool = await seen(driver, `button[aria-label='${name}']`);
      if ((await tool.getAttribute("aria-disabled")) === "true") continue;
      await tool.click();
      await (await prose()).sendKeys("x");
    }
    await taken(within || "the bar");
  }
  const { base } = on.site;
  const pastes: [string, Record<string, string>, string[]][] = [
    ["office", { "text/html": OFFICE, "text/plain": "x" }, ["4 links lead to a place no reader can open", "1 picture was left out"]],
    ["web", { "text/html": web(base), "text/plain": "x" }, ["1 link leads to a place no reader can open", "1 picture was left out"]],
    ["markdown", { "text/plain": MARKDOWN }, ["1 link leads", "1 picture was left out"]],
    ["plain", { "text/plain": `Two lines\nand ${base}/read/quay-operations/berth-plan-berthplan in one.` }, []],
  ];
  for (const [kind, data, said] of pastes) {
    await (await prose()).sendKeys(END, Key.ENTER, Key.ENTER);
    await paste(data);
    for (const words of said) await side(words);
    await (await prose()).sendKeys(END, ".");
    await taken(kind);
  }
  expect(await driver.findElements(By.css(".prose a[data-page=berthplan]"))).toHaveLength(2);
  await (await prose()).sendKeys(END, Key.ENTER);
  await paste({ "text/plain": `${base}/read/quay-operations/berth-plan-berthplan` });
  await textHolding(driver, ".prose", "Berth plan");
  await (await withText(driver, "button", "Save a version")).click();
  await side("Saved as version");
  await driver.get(`${base}/grid?place=cranes&tab=life`);
  await textHolding(driver, "aside", "working");
}, 240_000);

test("a long paste comes in whole, and words typed meanwhile stay where they were typed", async () => {
  await write("mooring");
  await (await prose()).sendKeys(END, Key.ENTER);
  await paste({ "text/html": Array.from({ length: 6_000 }, (_, i) => `<p>Paragraph ${i}.</p>`).join(""), "text/plain": "x" });
  await side("6,000 blocks were pasted");
  const numbers = (await driver.executeScript(
    "return [...document.querySelectorAll('.prose > p')].flatMap((it) => /^Paragraph (\\d+)\\.$/.exec(it.textContent)?.[1] ?? []).map(Number)",
  )) as number[];
  expect(numbers).toEqual(Array.from({ length: 6_000 }, (_, i) => i));
  await driver.executeScript("localStorage.clear()");
});

test("a refusal is told as one, with its reason before it happens; a server that is away as that, and tried again", async () => {
  await write("berthplan");
  const title = await seen(driver, "textarea[aria-label=Title]");
  await title.sendKeys(" x".repeat(160));
  await side("Saving is off: the title is");
  expect(await (await withText(driver, "button", "Save a version")).getAttribute("aria-disabled")).toBe("true");
  await title.sendKeys(" x".repeat(160));
  await side("the server did not take it");
  await title.sendKeys(Key.chord(Key.CONTROL, "a"), "Berth plan");
  await side("Kept, not yet a version");
  const network = (offline: boolean) =>
    (driver as ChromeDriver).sendDevToolsCommand("Network.emulateNetworkConditions", {
      offline,
      latency: 0,
      downloadThroughput: -1,
      uploadThroughput: -1,
    });
  await (driver as ChromeDriver).sendDevToolsCommand("Network.enable", {});
  await network(true);
  await (await prose()).sendKeys(END, " Typed in a tunnel.");
  await side("the server does not answer");
  await network(false);
  await side("Kept, not yet a version");
  await driver.navigate().refresh();
  await textHolding(driver, ".prose", "Typed in a tunnel.");
});

test("a page opens light, and what is done to the text before the editor has come is done once it has", async () => {
  const network = (latency: number, offline = false) =>
    (driver as ChromeDriver).sendDevToolsCommand("Network.emulateNetworkConditions", {
      offline,
      latency,
      downloadThroughput: -1,
      uploadThroughput: -1,
    });
  await signInAs(driver, on.site.base, "maren", "/write/cranes");
  await (driver as ChromeDriver).sendDevToolsCommand("Network.enable", {});
  await (driver as ChromeDriver).sendDevToolsCommand("Network.setCacheDisabled", { cacheDisabled: true });
  await driver.get(`${on.site.base}/write/cranes`);
  await side("Save a version");
  const script = () =>
    driver.executeScript<number>(
      "return performance.getEntriesByType('resource').filter((it) => it.name.endsWith('.js')).reduce((sum, it) => sum + it.encodedBodySize, 0)",
    );
  expect(await script()).toBeLessThan(180_000);
  await network(0, true);
  await (await prose()).sendKeys("Lost?");
  await textHolding(driver, "[role=group] [role=alert]", "Nothing can be typed yet");
  await network(1_000);
  await driver.wait(async () => (await driver.findElements(By.css("[role=group] [role=alert]"))).length === 0, 30_000);
  await driver.get(`${on.site.base}/write/cranes`);
  await side("Save a version");
  await (await prose()).sendKeys(END, Key.ENTER, "Typed earlyx", Key.BACK_SPACE, Key.ENTER);
  await paste({ "text/plain": "Pasted early" });
  // Whoever goes on to publish takes along what is still on its way into the text.
  await pressIn(driver, "aside", "Publish …");
  await side("Saved as version");
  await textHolding(driver, ".prose[contenteditable=true]", "Typed early\nPasted early");
  expect(await script()).toBeGreaterThan(180_000);
  await network(0);
  await (driver as ChromeDriver).sendDevToolsCommand("Network.setCacheDisabled", { cacheDisabled: false });
  await driver.navigate().refresh();
  await side("Save a version");
  await (await seen(driver, "button[aria-label='Bold']")).sendKeys(Key.ENTER);
  await seen(driver, "button[aria-label='Bold'][aria-pressed='true']");
});

test("two tabs on one page keep their words apart, and a closed one's are offered again", async () => {
  await write("timberyard");
  const first = await driver.getWindowHandle();
  await (await prose()).sendKeys(END, " From the first.");
  await side("Kept, not yet a version");
  await openTab(driver);
  await write("timberyard");
  expect(await text()).not.toContain("From the first.");
  await (await prose()).sendKeys(END, " From the second.");
  await side("Kept, not yet a version");
  await driver.switchTo().window(first);
  await driver.navigate().refresh();
  await textHolding(driver, ".prose", "From the first.");
  expect(await text()).not.toContain("From the second.");
  const [, second] = await driver.getAllWindowHandles();
  await driver.switchTo().window(second as string);
  await driver.close();
  await driver.switchTo().window(first);
  await driver.navigate().refresh();
  await side("Also not saved");
  expect(await side("From the second.")).toContain("Take these up");
  await (await withText(driver, "button", "Take these up")).click();
  await textHolding(driver, ".prose", "From the second.");
  expect(await side("From the first.")).toContain("Take these up");
});

test("what one person typed is never another's on the same browser, nor done in another's name", async () => {
  await write("weighbridge");
  await (await prose()).sendKeys(END, " Maren's own words.");
  await side("Kept, not yet a version");
  const old = await driver.getWindowHandle();
  await openTab(driver);
  await forgetSession(driver);
  await signInAs(driver, on.site.base, "jonas", "/write/weighbridge");
  await side("Save a version");
  expect(await text()).not.toContain("Maren's own words.");
  const fresh = await driver.getWindowHandle();
  // The page that was opened by Maren still is on the screen: nothing of it is kept or saved as Jonas.
  await driver.switchTo().window(old);
  // A window that was behind another may take no keys at first: they are typed until they stand there.
  const typed = async () => {
    if ((await text()).includes("And more.")) return true;
    await (await prose()).click();
    await (await prose()).sendKeys(END, " And more.");
    return false;
  };
  await driver.wait(typed, 30_000, "nothing can be typed");
  await side("Jonas Brandt is signed in now");
  const inBrowser = () => driver.executeScript("return Object.values(localStorage).some((it) => it.includes('And more.'))");
  await driver.wait(inBrowser, 30_000, "the browser does not keep it");
  await (await withText(driver, "button", "Save a version")).click();
  await textHolding(driver, "aside p[role=alert]", "Jonas Brandt is signed in now");
  await driver.switchTo().window(fresh);
  await driver.navigate().refresh();
  await side("Save a version");
  expect(await text()).not.toContain("own words");
  await signOut(driver);
  await signInAs(driver, on.site.base, "maren", "/write/weighbridge");
  await driver.switchTo().window(old);
  await driver.navigate().refresh();
  await textHolding(driver, ".prose", "Maren's own words. And more.");
  await driver.switchTo().window(fresh);
  await driver.close();
  await driver.switchTo().window(old);
});

test("a title of blanks starts no page; a scheduled page says when it goes live and is scheduled anew in place", async () => {
  await driver.get(`${on.site.base}/write/new?in=quays`);
  await (await seen(driver, "#title")).sendKeys("   ");
  await (await withText(driver, "button", "Start writing")).click();
  await textHolding(driver, "[role=alert]", "title");
  await (await seen(driver, "#title")).sendKeys("Tug rota");
  await (await withText(driver, "button", "Start writing")).click();
  await side("Save a version");
  const schedule = async (when: string) => {
    await (await seen(driver, "[data-publish]")).click();
    await (await withText(driver, "label", "at a time")).click();
    const at = await seen(driver, "input[aria-label='Goes live']");
    await at.sendKeys(Key.chord(Key.CONTROL, "a"), when, Key.ENTER);
    await pressIn(driver, "section[aria-label=Publish]", "Publish then");
  };
  await schedule("3 Dec 2027, 09:15");
  await side("3 Dec 2027, 09:15");
  await schedule("4 Jan 2028, 10:00");
  await side("4 Jan 2028, 10:00");
  await driver.navigate().refresh();
  await side("4 Jan 2028, 10:00");
  await (await withText(driver, "button", "no longer by itself")).click();
  await side("Draft");
});
