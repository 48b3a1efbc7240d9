/** What every file of browser stories begins and ends with: a demo site of its own, and a browser at it. */
import { afterAll, beforeAll } from "vitest";
import { type DemoSite, openDemoSite } from "../../cli/demoSite.ts";
import { type Browser, openBrowser } from "./driver.ts";

export interface Stage {
  site: DemoSite;
  browser: Browser;
}

/** Sets the stage before the stories of a file and clears it after them. */
export function stage(): Stage {
  const it = {} as Stage;
  beforeAll(async () => {
    it.site = await openDemoSite();
    it.browser = await openBrowser();
  });
  afterAll(async () => {
    await it.browser?.close();
    await it.site?.close();
  });
  return it;
}
