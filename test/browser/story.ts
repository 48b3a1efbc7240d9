/** What every file of browser stories begins and ends with: a demo site of its own, and a browser at it. */
import axe from "axe-core";
import type { WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, expect } from "vitest";
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { type Browser, openBrowser } from "./driver.ts";

export interface Stage {
  site: TestSite;
  browser: Browser;
}

/** Sets the stage before the stories of a file and clears it after them. */
export function stage(): Stage {
  const it = {} as Stage;
  beforeAll(async () => {
    it.site = await openSite();
    it.browser = await openBrowser();
  });
  afterAll(async () => {
    await it.browser?.close();
    await it.site?.close();
  });
  return it;
}

/** Nothing on the screen breaks the rules for who sees little, or works without a mouse. */
export async function isAccessible(driver: WebDriver, view: string): Promise<void> {
  await driver.executeScript(axe.source);
  const found = (await driver.executeAsyncScript(
    "const done = arguments[0]; axe.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'], resultTypes: ['violations'] }).then((it) => done(it.violations.map((v) => v.id + ': ' + v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160)).join(' | '))))",
  )) as string[];
  expect(found, view).toEqual([]);
}
