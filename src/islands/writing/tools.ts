/** The tools over a text, as they stand in a row: the same before and after the editor has come. */
import {
  Bold,
  Code,
  Heading1,
  Heading2,
  Italic,
  Link2,
  List,
  ListOrdered,
  MessageSquareQuote,
  Redo2,
  SquareCode,
  Table,
  TriangleAlert,
  Undo2,
} from "lucide-react";

export const TOOLS = [
  { name: "Heading", icon: Heading1 },
  { name: "Smaller heading", icon: Heading2 },
  { name: "Bold", icon: Bold },
  { name: "Italic", icon: Italic },
  { name: "Code", icon: Code },
  { name: "List", icon: List },
  { name: "Numbered list", icon: ListOrdered },
  { name: "Quotation", icon: MessageSquareQuote },
  { name: "Code block", icon: SquareCode },
  { name: "Callout", icon: TriangleAlert },
  { name: "Table", icon: Table },
  { name: "Link to a page", icon: Link2 },
  { name: "Undo", icon: Undo2 },
  { name: "Redo", icon: Redo2 },
] as const;

export type ToolName = (typeof TOOLS)[number]["name"];
