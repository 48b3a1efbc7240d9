/** Versions compared: what changed, and who saw it. */
import { QueryClientProvider, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import type { VersionList, VersionText } from "../../contracts/versions.ts";
import type { Compared } from "../../workers/compare/compare.ts";
import { queries } from "../shared/api.ts";
import { KeyHelp, useViewKey } from "../shared/KeyHelp.tsx";
import { useAddress } from "../shared/useAddress.ts";
import { addressOf, readAddress, type Shown } from "./address.ts";
import { ComparedText, PlainText } from "./ComparedText.tsx";
import { Margin } from "./Margin.tsx";
import { before, Spine } from "./Spine.tsx";
import { type Of, SOURCES } from "./sources.ts";
import { useCompared } from "./useCompared.ts";
import styles from "./versions.module.css";

const KEYS: [string, string][] = [
  ["↓ ↑", "from version to version"],
  ["1", "compare from this one"],
  ["2", "compare to this one"],
  ["Enter", "read this one as it was"],
  ["n, p", "next change, the one before"],
  ["s", "side by side, or in one text"],
];

const KINDS = { changed: "changed", moved: "moved", new: "new", gone: "gone" } as const;

/** What became of the passages, counted. */
function countsWords({ counts }: Compared): string {
  const told = (Object.keys(KINDS) as (keyof typeof KINDS)[]).filter((it) => counts[it] > 0);
  return told.length === 0 ? "The text is the same." : `Passages: ${told.map((it) => `${counts[it]} ${KINDS[it]}`).join(", ")}.`;
}

/** Everything one may list of a page's versions, page by page. */
function useVersions(of: Of, id: string) {
  const query = useInfiniteQuery({
    queryKey: ["versions", id, "list"],
    queryFn: ({ pageParam }) => SOURCES[of].list(id, pageParam === "" ? {} : { before: pageParam }),
    initialPageParam: "",
    getNextPageParam: (last) => (last.more ? last.versions.at(-1)?.name : undefined),
  });
  const [first] = query.data?.pages ?? [];
  const list: VersionList | null = first ? { ...first, versions: query.data?.pages.flatMap((it) => it.versions) ?? [] } : null;
  return { ...query, list };
}

const useVersion = (of: Of, id: string, name: string | null) =>
  useQuery({
    queryKey: ["versions", id, "text", name],
    queryFn: () => SOURCES[of].read(id, name ?? ""),
    enabled: name !== null && name !== "",
    // What was once written stays; what stands beside it may be told otherwise later.
    staleTime: 60_000,
  });

interface TextProps {
  from: VersionText | undefined;
  to: VersionText | undefined;
  alone: boolean;
  as: Shown["as"];
  onAs(as: Shown["as"]): void;
}

/** The text once, in reading type. */
function Text({ from, to, alone, as, onAs }: TextProps) {
  const sheet = useRef<HTMLElement>(null);
  const compared = useCompared(alone ? undefined : from?.body, to?.body);
  const step = (by: 1 | -1) => {
    const changes = [...(sheet.current?.querySelectorAll<HTMLElement>("[data-change]") ?? [])];
    const at = changes.indexOf(document.activeElement as HTMLElement);
    const next = changes[at < 0 ? (by === 1 ? 0 : changes.length - 1) : (at + by + changes.length) % changes.length];
    next?.focus();
    next?.scrollIntoView({ block: "center" });
  };
  useViewKey("n", () => step(1));
  useViewKey("p", () => step(-1));
  useViewKey("s", () => onAs(as === "side" ? "inline" : "side"));
  if (!to || !(alone || from)) return <section className={styles.sheet} ref={sheet} aria-label="Text" />;
  return (
    <section className={styles.sheet} ref={sheet} aria-label="Text" data-as={alone ? "inline" : as}>
      <div className={styles.bar}>
        <p role="status">{alone ? `Version ${to.name}, as it was.` : compared ? countsWords(compared) : "Comparing …"}</p>
        {!alone && (
          <span className="acts">
            <button type="button" className="button" onClick={() => step(1)} disabled={!compared}>
              Next change
            </button>
            <button type="button" className="button" onClick={() => onAs(as === "side" ? "inline" : "side")}>
              {as === "side" ? "In one text" : "Side by side"}
            </button>
          </span>
        )}
      </div>
      <h1 className={styles.title} dir="auto">
        {!alone && from && from.title !== to.title && <del>{from.title}</del>}{" "}
        {!alone && from?.title !== to.title ? <ins>{to.title}</ins> : to.title}
      </h1>
      {alone ? (
        <PlainText version={to} />
      ) : (
        compared && <ComparedText compared={compared} as={as} addresses={{ ...from?.addresses, ...to.addresses }} />
      )}
    </section>
  );
}

/** What is compared: as the address says, else the newest with the one before it. */
function chosenOf(list: VersionList, shown: Shown): { from: string | null; to: string } {
  const to = shown.to || list.newest;
  if (shown.from === "none") return { from: null, to };
  return { from: shown.from || before(list, to), to };
}

function View({ of, id }: { of: Of; id: string }) {
  const { list, error, hasNextPage, fetchNextPage, isFetchingNextPage } = useVersions(of, id);
  const [shown, show] = useAddress(readAddress, addressOf);
  const chosen = list ? chosenOf(list, shown) : { from: null, to: "" };
  const from = useVersion(of, id, chosen.from);
  const to = useVersion(of, id, chosen.to);
  const problem = error ?? from.error ?? to.error;
  if (!list) return <p className="message">{problem?.message ?? "Opening …"}</p>;
  return (
    <div className={styles.view}>
      <nav className={styles.left} aria-label="Versions">
        <h2 dir="auto">{list.title}</h2>
        <Spine
          versions={list.versions}
          from={chosen.from}
          to={chosen.to}
          onFrom={(name) => show({ from: name, to: chosen.to })}
          onTo={(name) => show({ to: name, from: chosen.from ?? "" })}
          onRead={(name) => show({ to: name, from: "none" })}
        />
        {hasNextPage && (
          <button type="button" className="button" disabled={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            Older versions
          </button>
        )}
      </nav>
      {problem ? (
        <p className="message">{problem.message}</p>
      ) : (
        <Text from={from.data} to={to.data} alone={chosen.from === null} as={shown.as} onAs={(as) => show({ as })} />
      )}
      {to.data && <Margin of={of} list={list} from={chosen.from === null ? null : (from.data ?? null)} to={to.data} />}
      <KeyHelp name="Versions" keys={KEYS} />
    </div>
  );
}

/** Of a page, or of a private draft. */
export default function VersionsView({ of, id }: { of: Of; id: string }) {
  return (
    <QueryClientProvider client={queries}>
      <View of={of} id={id} />
    </QueryClientProvider>
  );
}
