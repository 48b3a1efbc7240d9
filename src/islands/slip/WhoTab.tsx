/** Who has something at a place, told by why they have it; each reason opens to its people. Beneath: who came and went. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ChevronDown, ChevronRight } from "lucide-react";
import { useState } from "react";
import { readWho, type Slip, type Who, type WhoLine } from "../../contracts/slip.ts";
import { Stair } from "../../ui/Stair.tsx";
import { Told } from "../../ui/When.tsx";
import { Asked } from "../asked/Asked.tsx";
import { ask } from "../shared/api.ts";
import styles from "./slip.module.css";
import { WhoHistory } from "./WhoHistory.tsx";

const KINDS: Readonly<Record<WhoLine["kind"], [one: string, many: string]>> = {
  public: ["The public", "The public"],
  pass: ["pass", "passes"],
  guest: ["guest", "guests"],
  member: ["member", "members"],
};

const counted = ({ kind, count, some }: WhoLine): string =>
  kind === "public" ? "The public" : count === 1 ? (some[0] ?? "") : `${count.toLocaleString("en")} ${KINDS[kind][1]}`;

const levelOf = ({ level, oversight, set }: WhoLine): string =>
  [set === 0 ? "" : level.startsWith("custom") ? "Mix" : level, oversight ? "overseer" : ""].filter(Boolean).join(" · ");

interface LineProps {
  slip: Slip;
  line: WhoLine;
  opened: Who["opened"];
  onToggle(): void;
  onWhy(column: string): void;
}

function People({ slip, line, opened, onWhy }: Omit<LineProps, "onToggle">) {
  if (opened?.key !== line.key) return null;
  return (
    <ul className={styles.people} aria-label={`Who, through ${line.through}`}>
      {opened.people.map(({ viewpoint, name }) => (
        <li key={viewpoint}>
          <span className={styles.name} dir="auto">
            {viewpoint.startsWith("person:") && line.kind !== "public" ? (
              <a href={`/people?part=${line.kind}s&person=${encodeURIComponent(viewpoint.slice("person:".length))}`}>{name}</a>
            ) : (
              name
            )}
          </span>
          {slip.address && line.kind !== "pass" && (
            <a href={`/eyes/${viewpoint}${slip.address}`} aria-label={`Walk as ${name}`}>
              walk
            </a>
          )}
          <button type="button" className={styles.text} onClick={() => onWhy(viewpoint)} aria-label={`Why ${name}`}>
            why
          </button>
        </li>
      ))}
      {opened.more > 0 && <li className="soft">and {opened.more.toLocaleString("en")} more</li>}
    </ul>
  );
}

function Line({ slip, line, opened, onToggle, onWhy }: LineProps) {
  const isOpen = opened?.key === line.key;
  return (
    <li data-outside={line.kind !== "member"} className={styles.reason}>
      <button type="button" aria-expanded={isOpen} onClick={onToggle}>
        {isOpen ? <ChevronDown size={13} aria-hidden="true" /> : <ChevronRight size={13} aria-hidden="true" />}
        <Stair set={line.set} />
        <span>
          <strong dir="auto">{counted(line)}</strong> {levelOf(line)}
          <small className="soft">
            {" "}
            <Told text={line.through} />
          </small>
        </span>
      </button>
      <People slip={slip} line={line} opened={opened} onWhy={onWhy} />
    </li>
  );
}

export function WhoTab({ slip, onWhy }: { slip: Slip; onWhy(column: string): void }) {
  const [open, setOpen] = useState<string | null>(null);
  const at = slip.asOf;
  const query = { ...(open === null ? {} : { open }), ...(at === null ? {} : { at }) };
  const { data, error } = useQuery({
    queryKey: ["who", slip.id, query],
    queryFn: () => ask(readWho, { params: { id: slip.id }, query }),
    placeholderData: keepPreviousData,
    enabled: slip.knowsOthers,
  });
  if (!slip.knowsOthers) return <p className="soft">Knowing who else has access here needs Keeper, or oversight.</p>;
  if (error)
    return (
      <p className="notice bad" role="alert">
        {error.message}
      </p>
    );
  if (!data) return <p className="soft">Asking …</p>;
  const part = (title: string, count: number, none: string, lines: readonly WhoLine[]) => (
    <section key={title}>
      <h3>
        {title} <span className="soft">{count.toLocaleString("en")}</span>
      </h3>
      {title === "Outside" && slip.mayAskIn && (
        <p>
          <a href={`/people/invite?place=${encodeURIComponent(slip.id)}&title=${encodeURIComponent(slip.title)}`}>Ask a guest in …</a>
        </p>
      )}
      {lines.length === 0 && <p className="soft">{none}</p>}
      <ul className={styles.reasons}>
        {lines.map((line) => (
          <Line
            key={line.key}
            slip={slip}
            line={line}
            opened={data.opened}
            onToggle={() => setOpen(open === line.key ? null : line.key)}
            onWhy={onWhy}
          />
        ))}
      </ul>
    </section>
  );
  const outside = data.lines.filter(({ kind }) => kind !== "member");
  return (
    <>
      {at === null && <Asked place={slip.id} none="" />}
      {part("Outside", data.outside, "Nobody from outside gets in here.", outside)}
      {part(
        "Members",
        data.members,
        "No member has anything here.",
        data.lines.filter(({ kind }) => kind === "member"),
      )}
      {at === null && <WhoHistory id={slip.id} />}
    </>
  );
}
