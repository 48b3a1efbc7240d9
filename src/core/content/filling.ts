/** What a template leaves open and is filled in when it is used: the day, who uses it, the space. */
import type { BodyNode, PageBody } from "./body.ts";

export const BLANKS = ["date", "who", "space"] as const;
export type Blank = (typeof BLANKS)[number];
export type Filling = Readonly<Record<Blank, string>>;

/** How a blank stands in a title or a text. */
export const blankText = (blank: Blank): string => `‹${blank}›`;

const BLANK = /‹(date|who|space)›/g;

/** A title or a piece of text with its blanks filled in. What is filled in is text, whatever it holds: it is not filled again. */
export const filledText = (text: string, filling: Filling): string => text.replace(BLANK, (_, blank: Blank) => filling[blank]);

/** A body with the blanks in its texts filled in. */
export function filledBody(body: PageBody, filling: Filling): PageBody {
  const fill = (node: BodyNode): BodyNode => ({
    ...node,
    ...(typeof node.text === "string" ? { text: filledText(node.text, filling) } : {}),
    ...(node.content ? { content: node.content.map(fill) } : {}),
  });
  return { ...body, content: body.content.map(fill) };
}

/** Which blanks stand in a title and its body, in the order of `BLANKS`. */
export function blanksIn(title: string, body: PageBody): Blank[] {
  const found = new Set<string>();
  const look = (text: string) => {
    for (const [, blank = ""] of text.matchAll(BLANK)) found.add(blank);
  };
  const visit = (node: BodyNode) => {
    look(node.text ?? "");
    node.content?.forEach(visit);
  };
  look(title);
  body.content.forEach(visit);
  return BLANKS.filter((blank) => found.has(blank));
}
