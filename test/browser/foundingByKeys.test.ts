/** From an empty site to one that is in use with keys alone: not one click, and no address typed but the first and those of links. */
import { Key, type WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, expect, test } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { type Browser, openBrowser, pressKeys, seen, textHolding } from "./driver.ts";
import { isAccessible } from "./story.ts";

const PASSWORD = "a password of length";
let site: TestSite;
let browsers: Browser[];
let keeper: Hands;
let other: Hands;

/** Somebody who has a keyboard and nothing else. */
class Hands {
  constructor(readonly driver: WebDriver) {}

  keys = (...pressed: string[]): Promise<void> => pressKeys(this.driver, ...pressed);

  /** Goes on with Tab until what has the focus is what is meant: by a selector, or by what it is called. */
  async tabTo(meant: { fits?: string; called?: string }): Promise<void> {
    const end = Date.now() + 20_000;
    while (Date.now() < end) {
      const there = await this.driver.executeScript(
        `const it = document.activeElement; const { fits, called } = arguments[0];
         if (!it || it === document.body) return false;
         const name = (it.getAttribute("aria-label") ?? it.textContent ?? "").replace(/\\s+/g, " ").trim();
         return (!fits || it.matches(fits)) && (!called || name === called);`,
        meant,
      );
      if (there) return;
      await this.keys(Key.TAB);
    }
    throw new Error(`Tab never came to ${JSON.stringify(meant)}`);
  }

  /** Presses a button once it can be pressed. */
  async press(called: string, within = ""): Promise<void> {
    await this.tabTo({ fits: `${within} button:enabled`, called });
    await this.keys(Key.ENTER);
  }

  async follow(called: string, leadsTo: string): Promise<void> {
    await this.tabTo({ fits: "a[href]", called });
    await this.keys(Key.ENTER);
    await this.arrive(leadsTo);
  }

  arrive = (at: string) => this.driver.wait(async () => (await this.driver.getCurrentUrl()).includes(at), 30_000, `never came to ${at}`);
  /** What stands in a field goes, and this comes in. */
  async fill(fits: string, ...text: string[]): Promise<void> {
    await seen(this.driver, fits);
    await this.tabTo({ fits });
    await this.keys(...text);
  }

  /** Chooses in a picker by name. */
  async pick(label: string, name: string): Promise<void> {
    await this.fill(`input[aria-label=${JSON.stringify(label)}]`, name);
    await textHolding(this.driver, `ul[aria-label=${JSON.stringify(label)}] li[aria-selected=true]`, name);
    await this.keys(Key.ENTER);
  }

  async signIn(email: string): Promise<void> {
    await this.driver.get(`${site.base}/sign-in`);
    await this.fill("#email", email);
    await this.fill("#password", PASSWORD, Key.ENTER);
    await this.driver.wait(async () => !(await this.driver.getCurrentUrl()).includes("/sign-in"), 30_000, "not signed in");
  }

  async apply(): Promise<void> {
    await textHolding(this.driver, "section[aria-label=Tray]", "waits");
    await this.press("Apply", "section[aria-label=Tray]");
    await textHolding(this.driver, "div[role=status]", "Applied");
  }

  /** Goes to the slip of a place by its title. */
  async find(title: string): Promise<void> {
    await this.keys("/");
    await this.tabTo({ fits: "input[role=combobox]", called: "Find or do" });
    await this.keys(title);
    await textHolding(this.driver, "#found", title);
    await this.keys(Key.ENTER);
    await this.arrive("/grid?place=");
    await textHolding(this.driver, "aside h2", title);
  }
}

beforeAll(async () => {
  site = await openSite("empty");
  browsers = [await openBrowser(), await openBrowser()];
  [keeper, other] = browsers.map(({ driver }) => new Hands(driver)) as [Hands, Hands];
});
afterAll(async () => {
  for (const browser of browsers ?? []) await browser.close();
  await site?.close();
});

/** Asks somebody in; whoever it is takes it up by the link that is shown once. */
async function comesIn(who: string, { place, group }: { place?: string; group?: string }): Promise<void> {
  await keeper.follow("People", "/people");
  await keeper.follow("Ask in", "/people/invite");
  await keeper.fill("textarea", who);
  if (!place) {
    await keeper.tabTo({ fits: "input[name=kind]" });
    await keeper.keys(Key.ARROW_DOWN);
  }
  if (place) await keeper.pick("To see: spaces or pages", place);
  if (group) await keeper.pick("Into groups", group);
  if (place) await keeper.fill("input[aria-label=Until]", "in 4 weeks", Key.ENTER);
  await keeper.press("Ask in", "main");
  await textHolding(keeper.driver, "[role=status].notice", "asked in");
  const link = await (await seen(keeper.driver, "input[aria-label^='Link for']")).getAttribute("value");
  await other.driver.manage().deleteAllCookies();
  await other.driver.get(link ?? "");
  await other.fill("#password", PASSWORD, Key.ENTER);
  await other.driver.wait(async () => !(await other.driver.getCurrentUrl()).includes("/join/"), 30_000, "the invitation was not taken up");
}

const PRESETS = ["Open house", "Common room", "Reading room", "Closed room"];

test("three spaces are made, each as open as its preset says", async () => {
  await keeper.signIn("ada@here.invalid");
  await keeper.arrive("/desk");
  for (const [name, preset] of [
    ["Front door", "Open house"],
    ["Workshop", "Common room"],
    ["Vault", "Closed room"],
  ] as const) {
    await keeper.follow("Grid", "/grid");
    await keeper.follow("A new space", "/spaces/new");
    await keeper.fill("input[aria-label='What it is called']", name);
    await keeper.tabTo({ fits: "input[name=preset]" });
    const chosen = async () => (await (await seen(keeper.driver, "tr[data-chosen=true]")).getText()).includes(preset);
    for (let i = 0; i < PRESETS.length && !(await chosen()); i++) {
      await keeper.keys(Key.ARROW_DOWN);
      await new Promise((later) => setTimeout(later, 100));
    }
    await keeper.driver.wait(chosen, 30_000, `${preset} was never chosen`);
    await keeper.press("Make the space", "main");
    await keeper.arrive("/grid?place=");
    await textHolding(keeper.driver, "[role=treegrid]", name);
  }
});

test("a group in a group is made; two members and two guests come in, and each sees exactly what was said", async () => {
  for (const [name, inside] of [
    ["Divers", ""],
    ["Crew", "Divers"],
  ] as const) {
    await keeper.follow("People", "/people");
    await keeper.press("Groups", "main");
    await keeper.press("A new group", "main");
    await keeper.fill("form[aria-label='A new group'] input", name);
    if (inside) await keeper.pick("Put in", inside);
    await keeper.press("To the tray", "form[aria-label='A new group']");
    await keeper.apply();
    await textHolding(keeper.driver, "ul[aria-label=Groups]", name);
  }
  await comesIn("Mia Berg <mia@here.invalid>", { group: "Divers" });
  expect(await textHolding(other.driver, "main", "Workshop")).not.toContain("Vault");
  await comesIn("Noor Haddad <noor@here.invalid>", {});
  expect(await textHolding(other.driver, "main", "Workshop")).not.toContain("Vault");
  await comesIn("Gwen Guest <gwen@there.invalid>", { place: "Vault" });
  expect(await textHolding(other.driver, "main", "Vault")).not.toContain("Workshop");
  await comesIn("Gil Guest <gil@there.invalid>", { place: "Workshop" });
  expect(await textHolding(other.driver, "main", "Workshop")).not.toContain("Vault");
});

test("a page is written and published; a pass opens it, and opens nothing once it is withdrawn", async () => {
  await keeper.find("Vault");
  await keeper.follow("Start a page here", "/write/new");
  await keeper.fill("#title", "Where the keys hang", Key.ENTER);
  await seen(keeper.driver, ".prose");
  await keeper.tabTo({ fits: ".prose" });
  await keeper.keys("On the third hook.");
  await textHolding(keeper.driver, "aside", "Kept");
  // The tab key indents where one writes: Escape leaves the text first.
  await keeper.keys(Key.ESCAPE);
  await keeper.press("Publish …", "aside");
  await keeper.press("Publish now", "section[aria-label=Publish]");
  await textHolding(keeper.driver, "aside", "Published as version");
  await keeper.follow("Grid", "/grid");
  await keeper.find("Where the keys hang");
  await keeper.tabTo({ fits: "[role=tab]" });
  for (let i = 0; i < 6 && !(await keeper.driver.getCurrentUrl()).includes("tab=rules"); i++) await keeper.keys(Key.ARROW_RIGHT);
  await keeper.press("Make a pass", "aside");
  await keeper.fill("section[aria-label^='A pass for'] input", "The surveyor");
  await keeper.press("Make the pass", "aside");
  const link = (await (await seen(keeper.driver, "input[aria-label='The pass']")).getAttribute("value")) ?? "";
  await other.driver.manage().deleteAllCookies();
  await other.driver.get(link);
  await textHolding(other.driver, "body", "On the third hook.");
  await keeper.press("I have it", "aside");
  await keeper.follow("People", "/people");
  await keeper.press("Passes", "main");
  await textHolding(keeper.driver, "main", "used 1 time");
  await keeper.tabTo({ fits: "button[aria-label^='Withdraw the pass The surveyor']" });
  await keeper.keys(Key.ENTER);
  await textHolding(keeper.driver, "#frame", "was withdrawn: whoever holds it");
  await other.driver.get(link);
  await textHolding(other.driver, "main", "There is nothing here");
});

test("the house is closed to outsiders, and a member is seen off and let back in by taking that back", async () => {
  await keeper.follow("House", "/house");
  await isAccessible(keeper.driver, "house rules");
  await keeper.press("Close the house to outsiders …", "main");
  await textHolding(keeper.driver, "section[aria-label=Tray]", "lose on");
  await keeper.apply();
  await other.driver.manage().deleteAllCookies();
  await other.driver.get(site.base);
  expect(await textHolding(other.driver, "body", "Sign in")).not.toContain("Front door");

  await other.signIn("noor@here.invalid");
  await keeper.follow("People", "/people");
  await keeper.press("Members", "main");
  await textHolding(keeper.driver, "[role=grid]", "Noor Haddad");
  await keeper.tabTo({ fits: "[role=grid] [data-row]" });
  const row = async () => (await keeper.driver.switchTo().activeElement().getText()).includes("Noor Haddad");
  for (let i = 0; i < 5 && !(await row()); i++) await keeper.keys(Key.ARROW_DOWN);
  await keeper.keys(Key.ENTER);
  await textHolding(keeper.driver, "aside h2", "Noor Haddad");
  await keeper.tabTo({ fits: "aside a[href^='/people/leaving']" });
  await keeper.keys(Key.ENTER);
  await textHolding(keeper.driver, "main", "Noor Haddad leaves");
  await keeper.press("See Noor Haddad off", "main");
  await textHolding(keeper.driver, "main", "Done.");
  await other.driver.get(`${site.base}/account`);
  await seen(other.driver, "#email");
  await keeper.press("Take back", "[data-applied]");
  await keeper.press("Take back now", "[data-applied]");
  await textHolding(keeper.driver, "#frame", "was taken back");
  await other.signIn("noor@here.invalid");
});
