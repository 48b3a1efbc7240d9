/** Every endpoint there is. */
import * as accounts from "./accounts.ts";
import * as approval from "./approval.ts";
import * as asked from "./asked.ts";
import * as bringing from "./bringing.ts";
import * as change from "./change.ts";
import * as contents from "./contents.ts";
import * as crawl from "./crawl.ts";
import type { AnyContract } from "./declare.ts";
import * as desk from "./desk.ts";
import * as feed from "./feed.ts";
import * as filters from "./filters.ts";
import * as findings from "./findings.ts";
import * as forecast from "./forecast.ts";
import * as grid from "./grid.ts";
import * as guests from "./guests.ts";
import * as house from "./house.ts";
import * as idle from "./idle.ts";
import * as inviting from "./inviting.ts";
import * as jobs from "./jobs.ts";
import * as leaving from "./leaving.ts";
import * as ledger from "./ledger.ts";
import * as life from "./life.ts";
import * as moving from "./moving.ts";
import * as outside from "./outside.ts";
import * as pages from "./pages.ts";
import * as passes from "./passes.ts";
import * as pen from "./pen.ts";
import * as people from "./people.ts";
import * as pledges from "./pledges.ts";
import * as programs from "./programs.ts";
import * as publication from "./publication.ts";
import * as reads from "./reads.ts";
import * as registers from "./registers.ts";
import * as review from "./review.ts";
import * as routines from "./routines.ts";
import * as search from "./search.ts";
import * as slip from "./slip.ts";
import * as spaces from "./spaces.ts";
import * as tags from "./tags.ts";
import * as templates from "./templates.ts";
import * as versions from "./versions.ts";
import * as workbench from "./workbench.ts";
import * as writing from "./writing.ts";

const isContract = (it: unknown): it is AnyContract =>
  typeof it === "object" && it !== null && "method" in it && "path" in it && "who" in it;

export const CONTRACTS: readonly AnyContract[] = [
  accounts,
  approval,
  bringing,
  change,
  contents,
  desk,
  filters,
  grid,
  house,
  idle,
  inviting,
  jobs,
  leaving,
  ledger,
  life,
  moving,
  forecast,
  guests,
  outside,
  crawl,
  feed,
  registers,
  asked,
  findings,
  pages,
  passes,
  pen,
  people,
  pledges,
  programs,
  publication,
  reads,
  review,
  routines,
  search,
  slip,
  spaces,
  tags,
  templates,
  versions,
  workbench,
  writing,
].flatMap((feature) => Object.values(feature).filter(isContract));
