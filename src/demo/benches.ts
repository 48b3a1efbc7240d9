/** What lies on the workbenches of Brinehaven: drafts in no space, some with people let in to help. */

import { HELPER_LEVELS, type HelperLevel } from "../core/access/workbench/index.ts";
import { bodyOfMarkdown } from "../server/content/markdown.ts";
import { benchHelpers } from "../server/db/schema/index.ts";
import { putOnBench } from "../server/services/workbench/beginning.ts";
import { onBench } from "../server/services/workbench/opening.ts";

const HOUR = 3_600_000;

interface OnBench {
  id: string;
  owner: string;
  title: string;
  hoursAgo: number;
  text: string;
  helpers: [person: string, level: HelperLevel][];
}

const DRAFTS: OnBench[] = [
  {
    id: "benchice",
    owner: "maren",
    title: "Ice watch at the outer quay",
    hoursAgo: 20,
    text: "When the thermometer at the outer light stays under minus four for a night, the quay crew measures the ice in the basin at six and at noon.\n\nWhat is thicker than an arm is told to traffic control, who asks the tug to keep the turning circle open. Agents are rung from the list in the drawer, not from memory.",
    helpers: [
      ["jonas", "write"],
      ["mei", "comment"],
    ],
  },
  {
    id: "benchfenders",
    owner: "maren",
    title: "New fenders: what we ask of the maker",
    hoursAgo: 200,
    text: "Three offers are in. The cheapest one would have us drill into the old coping, which the engineers will not hear of.",
    helpers: [],
  },
  {
    id: "benchferry",
    owner: "jonas",
    title: "Ferry mornings, told to a newcomer",
    hoursAgo: 50,
    text: "You will hear the ferry before you see it. Be at the bollard when the horn goes the second time, not the first.",
    helpers: [["maren", "write"]],
  },
  {
    id: "benchletter",
    owner: "ruth",
    title: "A letter to the insurer that is not ready",
    hoursAgo: 90,
    text: "We regret what was said on the ramp, and would rather say it once more than have it quoted.",
    helpers: [],
  },
];

/** Puts the drafts on their workbenches; `today` in milliseconds since the epoch. */
export const loadBenches = (today: number): Promise<void> =>
  onBench(async (tx) => {
    for (const { id, owner, title, hoursAgo, text, helpers } of DRAFTS) {
      const at = new Date(today - hoursAgo * HOUR);
      await putOnBench(tx, owner, { title, body: bodyOfMarkdown(text) }, at, id);
      for (const [personId, level] of helpers) {
        const abilities = HELPER_LEVELS.find((it) => it.level === level)?.abilities ?? 0;
        await tx.insert(benchHelpers).values({ draftId: id, personId, abilities, since: at });
      }
    }
  });
