import { writeFileSync } from "node:fs";
import { Key } from "selenium-webdriver";
import { openBrowser, seen, signInAs, textHolding, withText } from "./driver.ts";

const base = "http://127.0.0.1:4400";
const b = await openBrowser();
const d = b.driver;
const shot = async (n: string) => {
  await new Promise((r) => setTimeout(r, 500));
  writeFileSync(`/tmp/shots/${n}.png`, Buffer.from(await d.takeScreenshot(), "base64"));
};
try {
  await signInAs(d, base, "maren", "/grid?place=berthplan&tab=rules");
  await textHolding(d, "aside", "Grants that stand");
  await shot("rules1");
  const until = await d.findElement({ css: "fieldset input[aria-label='Until']" });
  await until.sendKeys("31 Dec 2026");
  const whom = await seen(d, "input[aria-label='To whom']");
  await whom.sendKeys("pil");
  await new Promise((r) => setTimeout(r, 600));
  await shot("picker");
  await whom.sendKeys(Key.ENTER);
  await (await withText(d, "button", "To the tray")).click();
  await textHolding(d, "section[aria-label=Tray]", "gain");
  await (await d.findElement({ css: "button[aria-label='Until: choose a day']" })).click();
  await shot("calendar");
  await d.switchTo().activeElement().sendKeys(Key.ESCAPE);
  await (await withText(d, "button", "Look closer")).click();
  await shot("closer");
  console.log(await (await seen(d, "aside")).getText());
  console.log(await (await seen(d, "section[aria-label=Tray]")).getText());
  console.log((await d.manage().logs().get("browser")).map((l) => l.message));
} catch (e) {
  console.log(e);
  await shot("error");
} finally {
  await b.close();
}
