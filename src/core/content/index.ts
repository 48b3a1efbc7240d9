/** Page bodies: the one table of what may stand in them, the check that goes by it, and HTML and Markdown out and in. */
export {
  BODY_LIMITS,
  type BodyError,
  type BodyNode,
  type BodySize,
  bodyErrorSentence,
  bodyText,
  checkBody,
  emptyBody,
  linksOf,
  type Mark,
  overLimits,
  type PageBody,
  type PageLink,
  pagesLinkedFrom,
  sizeOfNodes,
} from "./body.ts";
export { BLANKS, type Blank, blanksIn, blankText, type Filling, filledBody, filledText } from "./filling.ts";
export { bodyHtml } from "./html.ts";
export { blocksOfMarkdown, looksLikeMarkdown, type MarkdownToken } from "./markdown.ts";
export { idInAddress, isSafeHref, MARKS, NODES, readAddress } from "./schema.ts";
