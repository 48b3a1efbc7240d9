/** Every endpoint there is. */
import * as accounts from "./accounts.ts";
import * as change from "./change.ts";
import type { AnyContract } from "./declare.ts";
import * as filters from "./filters.ts";
import * as grid from "./grid.ts";
import * as house from "./house.ts";
import * as jobs from "./jobs.ts";
import * as ledger from "./ledger.ts";
import * as life from "./life.ts";
import * as moving from "./moving.ts";
import * as pages from "./pages.ts";
import * as people from "./people.ts";
import * as programs from "./programs.ts";
import * as search from "./search.ts";
import * as slip from "./slip.ts";
import * as spaces from "./spaces.ts";
import * as tags from "./tags.ts";
import * as writing from "./writing.ts";

const isContract = (it: unknown): it is AnyContract =>
  typeof it === "object" && it !== null && "method" in it && "path" in it && "who" in it;

export const CONTRACTS: readonly AnyContract[] = [
  accounts,
  change,
  filters,
  grid,
  house,
  jobs,
  ledger,
  life,
  moving,
  pages,
  people,
  programs,
  search,
  slip,
  spaces,
  tags,
  writing,
].flatMap((feature) => Object.values(feature).filter(isContract));
