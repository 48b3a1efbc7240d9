/** What is outside, on screen: the page that got outside by a mistake is found, told why, closed; what is meant is settled; viewpoints compared. */
import { By, Key, type WebDriver } from "selenium-webdriver";
import { beforeAll, expect, test } from "vitest";
import { applyTray, pick, pressIn, seen, signInAs, textHolding, withText } from "./driver.ts";
import { isAccessible, stage } from "./story.ts";

const on = stage();
let driver: WebDriver;
beforeAll(() => {
  driver = on.browser.driver;
});

const line = (page: string) => seen(driver, `[data-page=${page}]`);

test("a crawler finds the page nobody meant, with where the link to it stands, beside what the rules say", async () => {
  await signInAs(driver, on.site.base, "ines", "/outside?part=crawl");
  await textHolding(driver, "main", "Nobody walked the site yet");
  await pressIn(driver, "main", "Walk the site as a stranger");
  await textHolding(driver, "main", "addresses");
  await withText(driver, "button", "Walk it again");
  await isAccessible(driver, "what a crawler finds");
  await (await seen(driver, "[data-kind=unmeant]")).click();
  await textHolding(driver, "main table", "Patrols on cruise days");
  const row = await driver.findElement(By.xpath("//tr[@data-as='unmeant'][contains(., 'Patrols on cruise days')]"));
  expect(await row.getText()).toMatch(/nobody said it is meant[\s\S]*from /);
  await (await seen(driver, "[data-kind=unindexed]")).click();
  await textHolding(driver, "main table", "Eelgrass meadows");
  await (await seen(driver, "[data-kind=closed]")).click();
  expect(await textHolding(driver, "main table", "Berth plan")).toContain("not found");
});

test("the security page that got outside is found with since and why, and closed by its key", async () => {
  await signInAs(driver, on.site.base, "ines", "/outside");
  await textHolding(driver, "main", "Patrols on cruise days");
  await isAccessible(driver, "outside, public");
  const text = await (await line("crowdwatch")).getText();
  expect(text).toMatch(/since .* by Noor van Dijk/);
  expect(text).toContain("“For visitors” says that the public are Reader");
  await (await line("crowdwatch")).sendKeys("c");
  await textHolding(driver, "section[aria-label=Tray]", "the public and 4 passes lose");
  await applyTray(driver);
  await driver.wait(async () => (await driver.findElements(By.css("[data-page=crowdwatch]"))).length === 0, 30_000, "it is still listed");
});

test("the pledge that it broke has mended; another is said in blanks, tried, kept and taken away again", async () => {
  await driver.get(`${on.site.base}/house?part=pledges`);
  expect(await textHolding(driver, "[data-pledge=pledgepatrol]", "Holds")).toMatch(/Holds since .* by Ines Carvalho/);
  await textHolding(driver, "section[aria-labelledby=forecast]", "“New hours of the harbour office” goes live");
  await isAccessible(driver, "pledges");
  await (await seen(driver, "select[aria-label=Where]")).sendKeys("at and below");
  await pick(driver, "Which place", "Berth plan");
  await pressIn(driver, "main", "Try it");
  await textHolding(driver, "section[aria-labelledby=newPledge]", "This holds today");
  await pressIn(driver, "main", "Keep it");
  await textHolding(driver, "section[aria-label=Tray]", "1 change waits");
  await applyTray(driver);
  await textHolding(driver, "ul[aria-label=Pledges]", "Outsiders never read below “Berth plan”");
  await (await seen(driver, "li[data-pledge^='pledge-']")).sendKeys("d");
  await textHolding(driver, "section[aria-label=Tray]", "1 change waits");
  await applyTray(driver);
  await driver.wait(
    async () => (await driver.findElements(By.css("li[data-pledge^='pledge-']"))).length === 0,
    30_000,
    "it is still pledged",
  );
});

test("what is meant to be outside is settled from line to line by keys, counted by space, and said to be so no longer", async () => {
  await driver.get(`${on.site.base}/outside?space=notices`);
  await seen(driver, "[data-page]");
  const before = (await driver.findElements(By.css("[data-page]"))).length;
  await (await line("bl5")).sendKeys("y");
  await driver.wait(async () => (await driver.findElements(By.css("[data-page]"))).length === before - 1, 30_000, "it was not settled");
  await pressIn(driver, "main", "Meant to be outside");
  await textHolding(driver, "[data-page=bl5]", "meant, says Ines Carvalho");
  await (await line("bl5")).sendKeys(Key.ARROW_DOWN, Key.ARROW_UP, "y");
  await textHolding(driver, "main", "Of no page here anybody said");
});

test("two viewpoints differ where somebody planted it; why is said for both; a member who keeps nothing is told of nothing", async () => {
  await driver.get(`${on.site.base}/outside?part=compare&a=guests&b=person:dora`);
  await textHolding(driver, "main", "They differ at");
  await isAccessible(driver, "viewpoints compared");
  await pressIn(driver, "ul[aria-label='Where they differ']", "Berth requests from agents");
  await textHolding(driver, "ul[aria-label='Where they differ']", "Any guest cannot");
  await pick(driver, "Second viewpoint", "Pilots");
  await textHolding(driver, "main", "Any member in Pilots");
  await driver.wait(async () => (await driver.getCurrentUrl()).includes("b=group%3Apilots"), 30_000, "the address does not say so");
  await signInAs(driver, on.site.base, "mei", "/outside?show=all");
  await textHolding(driver, "main", "The public reads nothing here, as far as you may see rules");
});

test("the guests nobody thought of stick out, are told apart, and are left with what they use, together, by keys", async () => {
  await signInAs(driver, on.site.base, "ines", "/outside?part=guests");
  await textHolding(driver, "[role=grid]", "Anders Holm");
  await isAccessible(driver, "guests");
  await pressIn(driver, "main fieldset", "Unused for 90 days 2");
  await driver.wait(async () => (await driver.findElements(By.css("[data-row]"))).length === 2, 30_000, "others are not gone");
  const row = await seen(driver, "[data-row='0']");
  await row.sendKeys(Key.ENTER);
  await textHolding(driver, "ul[aria-label='Through which rules']", "Dredging Contractors are Writer");
  await isAccessible(driver, "a guest");
  for (const key of [" ", Key.ARROW_DOWN, " ", "u"]) await driver.actions().sendKeys(key).perform();
  await textHolding(driver, "section[aria-label=Tray]", "2 guests lose on");
  await applyTray(driver);
  await textHolding(driver, "main", "Every guest read something in 90 days");
  await driver.get(`${on.site.base}/outside?part=guests`);
  await textHolding(driver, "[role=grid]", "Anders Holm");
  await (await driver.findElement(By.xpath("//*[@data-row][contains(., 'Anders Holm')]"))).sendKeys("e");
  await textHolding(driver, "section[aria-label=Tray]", "1 change waits");
  await applyTray(driver);
  const gone = async () => !(await (await seen(driver, "[role=grid]")).getText()).includes("Anders Holm");
  await driver.wait(gone, 30_000, "the forgotten guest is still in");
});

test("a rule that does nothing is mended by its key through the tray: nobody gains or loses, and it is gone from the list", async () => {
  await signInAs(driver, on.site.base, "ines", "/outside?part=idle&kind=covered");
  const first = await seen(driver, "ul[aria-label='Idle rules'] li");
  await isAccessible(driver, "idle rules");
  const before = (await driver.findElements(By.css("ul[aria-label='Idle rules'] li"))).length;
  await first.sendKeys("m");
  await textHolding(driver, "section[aria-label=Tray]", "Nobody gains or loses anything");
  await applyTray(driver);
  await driver.wait(
    async () => (await driver.findElements(By.css("ul[aria-label='Idle rules'] li"))).length === before - 1,
    30_000,
    "it is still there",
  );
});

test("what looks sensitive on pages outsiders read is shown where it stands and set aside with a reason; the next text says so before it goes live", async () => {
  await signInAs(driver, on.site.base, "ruth", "/outside?part=findings");
  const page = await line("lessonramp");
  expect(await page.getText()).toContain("1 e-mail address, 1 telephone number; read by the public");
  await isAccessible(driver, "findings");
  await page.sendKeys("s");
  await driver.actions().sendKeys("He asked for it.", Key.ENTER).perform();
  await textHolding(driver, "main", "Nothing that outsiders read looks sensitive here");
  await (await seen(driver, ".viewBar input[type=checkbox]")).click();
  expect(await textHolding(driver, "[data-page=lessonramp]", "He asked for it.")).toContain("set aside by Ruth Abernethy");
  await driver.get(`${on.site.base}/write/lessonramp`);
  await (await seen(driver, "[data-home]")).sendKeys("Pay DE89 3704 0044 0532 0130 00, sluice code. ");
  await (await withText(driver, "button", "Publish …")).click();
  const said = await textHolding(driver, "section[aria-label='What looks sensitive']", "4 places in the text look sensitive");
  for (const words of ["DE89 3704 0044 0532 0130 00 bank account number", "sluice code word of the house"]) expect(said).toContain(words);
  expect(await driver.findElements(By.css(".prose [data-finding]"))).toHaveLength(4);
  await pressIn(driver, "section[aria-label='What looks sensitive']", "sluice code");
  await driver.wait(() => driver.executeScript("return String(getSelection()) === 'sluice code'"), 30_000, "the find is not selected");
  await pressIn(driver, "section[aria-label=Publish]", "Publish now");
  await textHolding(driver, "aside", "Published as version 2.0");
  await driver.get(`${on.site.base}/outside?part=findings`);
  await textHolding(driver, "[data-page=lessonramp]", "1 bank account number, 1 word of the house");
});

test("a refused member asks, whoever may admit lets them in until Friday with the ripple in sight, and the page opens", async () => {
  await signInAs(driver, on.site.base, "mei", "/read/port-security/patrol-routes-winter-patrols");
  await textHolding(driver, "main", "There is nothing here, or it is not open to you");
  await (await withText(driver, "a", "ask for access")).click();
  await (await seen(driver, "textarea[name=reason]")).sendKeys("I stand in for Emeka.");
  await isAccessible(driver, "asking for access");
  await (await withText(driver, "button", "Ask")).click();
  await textHolding(driver, "main [role=status]", "If there is such a page, whoever keeps it sees your request");
  await signInAs(driver, on.site.base, "viktor", "/people?part=asking");
  const asked = await seen(driver, "[data-asked=mei]");
  expect(await asked.getText()).toContain("I stand in for Emeka.");
  await asked.sendKeys("l");
  await textHolding(driver, "[data-asked=mei] section", "Mei Lin is Reader");
  await isAccessible(driver, "letting somebody in");
  const friday = new Date(Date.now() + ((5 - new Date().getDay() + 7) % 7 || 7) * 86_400_000);
  const until = friday.toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
  await (await seen(driver, "[data-asked=mei] input[aria-label=Until]")).sendKeys(until, Key.ENTER);
  await textHolding(driver, "[data-asked=mei] section", "until");
  await (await withText(driver, "button", "Let them in")).click();
  await driver.wait(async () => (await driver.findElements(By.css("[data-asked=mei]"))).length === 0, 30_000, "the request stays");
  await signInAs(driver, on.site.base, "mei", "/read/port-security/patrol-routes-winter-patrols");
  expect(await textHolding(driver, "main h1", "Patrol routes, winter")).toBeTruthy();
});

test("the grid and its slip as they were are edged, to be read and not changed; the registers say who made each rule and why", async () => {
  const then = new Date(Date.now() - 200 * 86_400_000).toISOString();
  await signInAs(driver, on.site.base, "ines", `/grid?at=${then}&place=tidetables&tab=rules&columns=public,members,member%2Bpilots`);
  await textHolding(driver, "aside", "to be read, not changed");
  await textHolding(driver, "[role=treegrid]", "Any member in Pilots");
  await isAccessible(driver, "the grid as it was");
  expect(await driver.findElements(By.css("[data-place=crowdwatch]"))).toEqual([]);
  await (await seen(driver, "[data-place=tidetables] [role=gridcell]:nth-child(2)")).click();
  await textHolding(driver, "aside [role=status]", "The public can read");
  await driver.get(`${on.site.base}/grid?place=visitors&tab=who`);
  await textHolding(driver, "aside", "through “the public are Reader” on “For visitors”");
  await textHolding(driver, "aside table", "Noor van Dijk");
  await isAccessible(driver, "who, by why");
  await driver.get(`${on.site.base}/ledger?register=rules&words=tide`);
  await textHolding(driver, "main table", "Skippers ask for the tables every day.");
  await isAccessible(driver, "a register");
});
