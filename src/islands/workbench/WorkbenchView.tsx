/** The workbench: one's own private drafts, what one was let into, and what was thrown away lately. */
import { QueryClientProvider, useMutation, useQuery } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { type DraftRow, readWorkbench, throwDraft } from "../../contracts/workbench.ts";
import { When } from "../../ui/When.tsx";
import { ask, queries } from "../shared/api.ts";
import { KeyHelp } from "../shared/KeyHelp.tsx";
import { lineKeys } from "../shared/lineKeys.ts";
import { say } from "../shared/say.ts";
import styles from "./workbench.module.css";

const LEVELS: Readonly<Record<DraftRow["level"], string>> = { read: "to read", comment: "to comment", write: "to write" };

const open = (id: string) => window.location.assign(`/workbench/${id}`);

function useThrowing() {
  return useMutation({
    mutationFn: ({ id, act }: { id: string; title: string; act: "throw" | "takeBack" }) =>
      ask(throwDraft, { params: { id }, body: { act } }),
    onSuccess: async (_, { title, act }) => {
      say(act === "throw" ? `${title} is thrown away; it can be taken back for a while.` : `${title} stands on your workbench again.`);
      await queries.invalidateQueries({ queryKey: ["workbench"] });
    },
  });
}

function Line({ row, throwing }: { row: DraftRow; throwing: ReturnType<typeof useThrowing> }) {
  const { id, title, owner, level, helpers, version, savedAt, typed, thrownAt } = row;
  const turn = (act: "throw" | "takeBack") => throwing.mutate({ id, title, act });
  const mine = owner === "";
  return (
    <li
      // biome-ignore lint/a11y/noNoninteractiveTabindex: lines are gone through by keys, as in every list here
      tabIndex={0}
      onKeyDown={lineKeys({
        Enter: () => thrownAt === null && open(id),
        ...(mine && { b: () => turn(thrownAt === null ? "throw" : "takeBack") }),
      })}
    >
      {thrownAt === null ? (
        <a href={`/workbench/${id}`} dir="auto">
          {title}
        </a>
      ) : (
        <span dir="auto">{title}</span>
      )}
      <span className="soft" dir="auto">
        {mine
          ? helpers === 0
            ? "for you alone"
            : `${helpers} ${helpers === 1 ? "helper" : "helpers"}`
          : `${owner} let you in ${LEVELS[level]}`}
        {typed && ", with words you have not saved"}
      </span>
      <span className="soft">version {version}</span>
      <span className="soft">
        <When instant={thrownAt ?? savedAt} as="short" />
      </span>
      {mine && (
        <button
          type="button"
          className="button plain"
          disabled={throwing.isPending}
          onClick={() => turn(thrownAt === null ? "throw" : "takeBack")}
        >
          {thrownAt === null ? "Throw away" : "Take back"}
        </button>
      )}
    </li>
  );
}

function List({
  name,
  rows,
  empty,
  throwing,
}: {
  name: string;
  rows: DraftRow[];
  empty: string;
  throwing: ReturnType<typeof useThrowing>;
}) {
  return (
    <section aria-label={name}>
      <h2>
        {name} <span className="soft">{rows.length || ""}</span>
      </h2>
      {rows.length === 0 ? (
        <p className="soft">{empty}</p>
      ) : (
        <ul className={styles.lines}>
          {rows.map((row) => (
            <Line key={row.id} row={row} throwing={throwing} />
          ))}
        </ul>
      )}
    </section>
  );
}

const KEYS: [string, string][] = [
  ["+", "begin a draft, from anywhere"],
  ["↓ ↑", "from draft to draft"],
  ["Enter", "go on writing it"],
  ["b", "throw it away, or take it back"],
];

function View({ isMember }: { isMember: boolean }) {
  const { data, error } = useQuery({ queryKey: ["workbench"], queryFn: () => ask(readWorkbench) });
  const throwing = useThrowing();
  if (!data) return <p className="message">{error?.message ?? "Opening …"}</p>;
  return (
    <div className={styles.view}>
      <header>
        <h1>Workbench</h1>
        <p className="soft">
          Drafts in no space. Nobody else knows of them but whom you let in: no search finds them, no list counts them.
        </p>
        {isMember && (
          <a className="button go" href="/workbench/new">
            <Plus size={15} aria-hidden="true" /> Begin a draft
          </a>
        )}
      </header>
      {throwing.error && <p className="notice bad">{throwing.error.message}</p>}
      {isMember && (
        <List
          name="Yours"
          rows={data.drafts}
          empty="Nothing yet. Begin one with + from anywhere: blank, from a template, or as a copy of a page."
          throwing={throwing}
        />
      )}
      <List name="You were let into" rows={data.letInto} empty="No draft of anybody else." throwing={throwing} />
      {data.thrown.length > 0 && <List name="Thrown away" rows={data.thrown} empty="" throwing={throwing} />}
      {data.thrown.length > 0 && <p className="soft">What was thrown away is kept for {data.keptDays} days.</p>}
      <KeyHelp name="the workbench" keys={KEYS} />
    </div>
  );
}

export default function WorkbenchView({ isMember }: { isMember: boolean }) {
  return (
    <QueryClientProvider client={queries}>
      <View isMember={isMember} />
    </QueryClientProvider>
  );
}
