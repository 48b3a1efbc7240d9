/** A text beside what it was: in one text, or side by side; and a text by itself. */
import type { VersionText } from "../../contracts/versions.ts";
import { type BodyNode, bodyHtml } from "../../core/content/index.ts";
import reading from "../../ui/reader/reader.module.css";
import type { Compared, ComparedRow } from "../../workers/compare/compare.ts";
import styles from "./versions.module.css";

export type Addresses = Readonly<Record<string, string>>;

function Blocks({ nodes, addresses }: { nodes: readonly (BodyNode | null)[]; addresses: Addresses }) {
  const content = nodes.filter((it) => it !== null);
  const html = bodyHtml({ schema: 1, content }, (id) => addresses[id] ?? null);
  // Safe by construction: `bodyHtml` writes its own tags alone, and every text escaped.
  return <div dangerouslySetInnerHTML={{ __html: html }} />;
}

const SAID: Partial<Record<ComparedRow["became"], string>> = {
  new: "New passage",
  gone: "Passage that is gone",
  changed: "Changed passage",
  moved: "Passage that moved here",
  movedAway: "Passage that moved away from here",
};

/** Changes are stepped through: each is an element that can be gone to. */
const changeProps = ({ became }: ComparedRow) =>
  became === "same" ? {} : { "data-change": became, role: "group", "aria-label": SAID[became], tabIndex: -1 };

/** Blocks that carry ids of their own would carry them twice here. */
const nameless = (node: BodyNode): BodyNode => {
  const { id: _, ...attrs } = node.attrs ?? {};
  return { ...node, attrs, ...(node.content ? { content: node.content.map(nameless) } : {}) };
};

export function ComparedText({ compared, as, addresses }: { compared: Compared; as: "inline" | "side"; addresses: Addresses }) {
  if (as === "inline")
    return (
      <div className={`${reading.text} ${styles.text}`} dir="auto">
        {compared.rows.map((row, i) => (
          <div key={i} className={styles.row} {...changeProps(row)}>
            <Blocks nodes={row.inline.map(nameless)} addresses={addresses} />
          </div>
        ))}
      </div>
    );
  return (
    <div className={`${reading.text} ${styles.text} ${styles.sides}`} dir="auto">
      {compared.rows.map((row, i) => (
        <div key={i} className={styles.pair} {...changeProps(row)}>
          <Blocks nodes={[row.left && nameless(row.left)]} addresses={addresses} />
          <Blocks nodes={[row.right && nameless(row.right)]} addresses={addresses} />
        </div>
      ))}
    </div>
  );
}

export const PlainText = ({ version }: { version: VersionText }) => (
  <div className={`${reading.text} ${styles.text}`} dir="auto">
    <Blocks nodes={version.body.content} addresses={version.addresses} />
  </div>
);
