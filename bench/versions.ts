/** Measures comparing two versions of a page, as the worker does it: one changed here and there, one wholly different. */
import type { BodyNode, PageBody } from "../src/core/content/index.ts";
import { Dice } from "../src/demo/large/dice.ts";
import { compareBodies } from "../src/workers/compare/compare.ts";
import { quantile, timed } from "./measuring.ts";

export interface VersionFigures {
  kilobytes: number;
  changedMs: number;
  differentMs: number;
}

const WORDS =
  "berth quay tide crane line pilot lock harbour night watch grain timber ferry ice winter depth mooring signal lamp keeper".split(" ");
const SIZE = 200_000;

/** A text of so many bytes as JSON, of paragraphs, headings, lists and tables. */
function textOf(dice: Dice): PageBody {
  const sentence = () => Array.from({ length: dice.between(6, 30) }, () => `${dice.pick(WORDS)}${dice.between(1, 400)}`).join(" ");
  const words = (): BodyNode[] => [{ type: "text", text: sentence() }];
  const paragraph = (): BodyNode => ({ type: "paragraph", attrs: { id: `b${dice.between(1, 2 ** 30)}` }, content: words() });
  const block = (): BodyNode => {
    const kind = dice.next();
    if (kind < 0.1) return { type: "heading", attrs: { id: `h${dice.between(1, 2 ** 30)}`, level: 2 }, content: words() };
    if (kind < 0.2) return { type: "bulletList", content: Array.from({ length: 5 }, () => ({ type: "listItem", content: [paragraph()] })) };
    if (kind < 0.25)
      return {
        type: "table",
        content: Array.from({ length: 6 }, () => ({
          type: "tableRow",
          content: Array.from({ length: 4 }, () => ({ type: "tableCell", content: [paragraph()] })),
        })),
      };
    return paragraph();
  };
  const content: BodyNode[] = [];
  for (let size = 0; size < SIZE; ) {
    const next = block();
    content.push(next);
    size += JSON.stringify(next).length;
  }
  return { schema: 1, content };
}

/** Every twentieth block written anew in part, left out, or moved. */
function changed({ content }: PageBody): PageBody {
  const after = content.flatMap((node, i): BodyNode[] => {
    if (i % 60 === 20) return [];
    if (i % 20 !== 0 || !node.content?.[0]?.text) return [node];
    return [{ ...node, content: [{ ...node.content[0], text: `${node.content[0].text.slice(0, -8)} as agreed in winter` }] }];
  });
  for (let i = 40; i + 50 < after.length; i += 90) after.splice(i + 45, 0, ...after.splice(i, 1));
  return { schema: 1, content: after };
}

export function measureVersions(): VersionFigures {
  const one = textOf(new Dice(8));
  const [two, other] = [changed(one), textOf(new Dice(99))];
  const median = (to: PageBody) => {
    const times = Array.from({ length: 9 }, () => timed(() => compareBodies(one, to)).ms);
    return quantile(times, 0.5);
  };
  return { kilobytes: Math.round(JSON.stringify(one).length / 1000), changedMs: median(two), differentMs: median(other) };
}
