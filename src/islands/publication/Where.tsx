/** Where it is to stand: the places there are as a tree, and who would read it in each as one moves over it. */
import { useInfiniteQuery } from "@tanstack/react-query";
import { ChevronDown, ChevronRight } from "lucide-react";
import { type KeyboardEvent, useRef, useState } from "react";
import { type Destination, listDestinations } from "../../contracts/publication.ts";
import { ask } from "../shared/api.ts";
import type { Order, PublicationSource } from "./order.ts";
import styles from "./publication.module.css";

/** "the public, 12 guests and 40 members". */
export function readersWords({ public: open, guests, members }: NonNullable<Destination["readers"]>): string {
  const some = (count: number, one: string) => (count === 0 ? "" : `${count.toLocaleString("en")} ${count === 1 ? one : `${one}s`}`);
  const parts = [open ? "the public" : "", some(guests, "guest"), some(members, "member")].filter(Boolean);
  return parts.length === 0 ? "nobody" : parts.join(", ");
}

function saidOf({ title, readers, off, onlyDraft, approval }: Destination): string {
  if (off) return `${title}: ${off}`;
  const asks = approval ? " What is published there is approved first." : "";
  const who = readers ? `In ${title} it would be read by ${readersWords(readers)}.` : title;
  return `${who}${onlyDraft ? ` ${onlyDraft}` : ""}${asks}`;
}

interface LevelProps {
  source: PublicationSource;
  /** What stands in this place; null: the spaces. */
  in_: string | null;
  as: "page" | "bulletin";
  depth: number;
  chosen: string;
  onOver(place: Destination): void;
  onChoose(place: Destination): void;
}

function Level({ source, in_, as, depth, chosen, onOver, onChoose }: LevelProps) {
  const { data, error, hasNextPage, fetchNextPage, isPending } = useInfiniteQuery({
    queryKey: ["destinations", source.page ?? "", as, in_],
    queryFn: ({ pageParam }) =>
      ask(listDestinations, {
        query: {
          as,
          ...(in_ === null ? {} : { in: in_ }),
          ...(source.page ? { page: source.page } : {}),
          ...(pageParam ? { after: pageParam } : {}),
        },
      }),
    initialPageParam: "",
    getNextPageParam: (last) => last.next ?? undefined,
  });
  if (error) return <p className="notice bad">{error.message}</p>;
  if (isPending) return <p className="soft">…</p>;
  const places = data.pages.flatMap((it) => it.places);
  return (
    <>
      {places.length === 0 && depth === 0 && <p className="soft">There is no place you could put it.</p>}
      {places.map((place) => (
        <Branch key={place.id} {...{ source, as, depth, chosen, onOver, onChoose, place }} />
      ))}
      {hasNextPage && (
        <button type="button" className="button plain" onClick={() => void fetchNextPage()}>
          More places
        </button>
      )}
    </>
  );
}

function Branch({ place, ...props }: Omit<LevelProps, "in_"> & { place: Destination }) {
  const [open, setOpen] = useState(false);
  const { depth, chosen, onOver, onChoose } = props;
  const isChosen = chosen === place.id;
  const keys = (event: KeyboardEvent) => {
    if (event.key === "ArrowRight" && place.hasMore && !open) setOpen(true);
    else if (event.key === "ArrowLeft" && open) setOpen(false);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <>
      <div
        role="treeitem"
        aria-level={depth + 1}
        aria-expanded={place.hasMore ? open : undefined}
        aria-selected={isChosen}
        aria-disabled={place.off !== ""}
        tabIndex={isChosen || (chosen === "" && depth === 0) ? 0 : -1}
        className={styles.place}
        data-place={place.id}
        data-outside={place.readers !== null && (place.readers.public || place.readers.guests > 0)}
        style={{ paddingLeft: 8 + depth * 18 }}
        title={saidOf(place)}
        onMouseEnter={() => onOver(place)}
        onFocus={() => onOver(place)}
        onClick={() => place.off === "" && onChoose(place)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && place.off === "") onChoose(place);
          else keys(event);
        }}
      >
        {place.hasMore ? (
          <button
            type="button"
            tabIndex={-1}
            aria-label={open ? `Close ${place.title}` : `Open ${place.title}`}
            onClick={(event) => {
              event.stopPropagation();
              setOpen(!open);
            }}
          >
            {open ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
          </button>
        ) : (
          <span className={styles.leaf} />
        )}
        <span dir="auto">{place.title}</span>
        {place.off !== "" && <small>not here</small>}
        {place.off === "" && place.onlyDraft !== "" && <small>as a draft</small>}
      </div>
      {open && <Level {...props} in_={place.id} depth={depth + 1} />}
    </>
  );
}

interface Props {
  source: PublicationSource;
  order: Order;
  /** Where it stands, or will, from the space down. */
  path: readonly string[];
  onChange(change: Partial<Order>): void;
}

/** Up and down go from place to place, as they stand on the screen. */
function stepKeys(event: KeyboardEvent<HTMLElement>, tree: HTMLElement | null): void {
  const by = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
  if (by === 0 || !tree) return;
  const items = [...tree.querySelectorAll<HTMLElement>("[role=treeitem]")];
  items[items.indexOf(document.activeElement as HTMLElement) + by]?.focus();
  event.preventDefault();
}

export function Where({ source, order, path, onChange }: Props) {
  const [open, setOpen] = useState(source.kind === "draft");
  const [over, setOver] = useState<Destination | null>(null);
  const tree = useRef<HTMLDivElement>(null);
  return (
    <section className={styles.part} aria-label="Where">
      <h3>Where</h3>
      <p dir="auto">
        {path.length > 0 ? path.join(" / ") : <span className="soft">Nowhere yet: choose a place.</span>}{" "}
        <button type="button" className="textButton" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "put the places away" : source.kind === "draft" ? "choose" : "publish it elsewhere"}
        </button>
      </p>
      {open && (
        <>
          {source.kind === "draft" && (
            <label className={styles.tick}>
              <input
                type="checkbox"
                checked={order.as === "bulletin"}
                onChange={(event) => onChange({ as: event.target.checked ? "bulletin" : "page", to: "" })}
              />{" "}
              A bulletin: dated, outside the page tree
            </label>
          )}
          <div ref={tree} role="tree" aria-label="Places" className={styles.tree} onKeyDown={(event) => stepKeys(event, tree.current)}>
            <Level
              source={source}
              in_={null}
              as={order.as}
              depth={0}
              chosen={order.to}
              onOver={setOver}
              onChoose={(place) => {
                // Where one may not publish it can be placed all the same.
                const onlyPlaced = source.kind === "draft" && place.onlyDraft !== "";
                onChange({ to: place.id, wishes: [], ...(onlyPlaced && { what: "place" }) });
                setOpen(false);
              }}
            />
          </div>
          <p className={styles.over} role="status">
            {over ? saidOf(over) : "Each place says here who would read it there."}
          </p>
        </>
      )}
    </section>
  );
}
