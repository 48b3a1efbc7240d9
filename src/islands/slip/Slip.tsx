/** The slip: one place, with its why, who, rules and life. */

import { useQuery } from "@tanstack/react-query";
import { ExternalLink, FilePlus, PenLine } from "lucide-react";
import { lazy, Suspense } from "react";
import { readSlip, type Slip as SlipOfPlace } from "../../contracts/slip.ts";
import { STATES_SAID } from "../../ui/states.ts";
import { When } from "../../ui/When.tsx";
import { ask } from "../shared/api.ts";
import { Frame } from "./Frame.tsx";
import { LifeTab } from "./LifeTab.tsx";
import { RulesTab } from "./RulesTab.tsx";
import { StepIn } from "./StepIn.tsx";
import styles from "./slip.module.css";
import { LifeThen, RulesThen } from "./Then.tsx";
import { WhoTab } from "./WhoTab.tsx";
import { WhyTab } from "./WhyTab.tsx";

// Its charts come when it is opened.
const ReadsTab = lazy(() => import("../reads/ReadsTab.tsx"));

interface Props {
  id: string;
  /** Column a *why* is asked for. */
  column: string | null;
  tab: string;
  /** As of this instant; empty: now. */
  at?: string;
  onTab(tab: string, column?: string): void;
  onGo(place: string, tab: string): void;
  onClose(): void;
}

const KINDS = { site: "site", space: "space", page: "page", bulletin: "bulletin" };
/** What one can go on to from a place. */
const Links = ({ slip }: { slip: SlipOfPlace }) => (
  <p className={styles.links}>
    {slip.address && (
      <a href={slip.address}>
        <ExternalLink size={13} aria-hidden="true" /> Read it
      </a>
    )}
    {slip.mayWrite && (
      <a href={`/write/${slip.id}`}>
        <PenLine size={13} aria-hidden="true" /> Write
      </a>
    )}
    {slip.mayAdd && (
      <a href={`/write/new?in=${slip.id}`}>
        <FilePlus size={13} aria-hidden="true" /> Start a page here
      </a>
    )}
  </p>
);

interface Tab {
  key: string;
  name: string;
}

/** The parts of the slip: one Tab stop, the arrows lead on. */
const Tabs = ({ tabs, shown, onTab }: { tabs: Tab[]; shown: string; onTab(tab: string): void }) => (
  <div role="tablist" aria-label="Parts of the slip" className={styles.tabs}>
    {tabs.map(({ key, name }) => (
      <button
        key={key}
        type="button"
        role="tab"
        aria-selected={key === shown}
        tabIndex={key === shown ? 0 : -1}
        onClick={() => onTab(key)}
        onKeyDown={(event) => {
          const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
          if (step === undefined) return;
          event.preventDefault();
          const next = (tabs.findIndex((it) => it.key === key) + step + tabs.length) % tabs.length;
          onTab(tabs[next]?.key ?? key);
          (event.currentTarget.parentElement?.children[next] as HTMLElement | undefined)?.focus();
        }}
      >
        {name}
      </button>
    ))}
  </div>
);

export function Slip({ id, column, tab, at = "", onTab, onGo, onClose }: Props) {
  const { data: slip, error } = useQuery({
    queryKey: ["slip", id, at],
    queryFn: () => ask(readSlip, { params: { id }, query: at === "" ? {} : { at } }),
  });
  if (error || !slip)
    return (
      <Frame label="Slip" above="" title="" onClose={onClose}>
        <p className="soft">{error ? (at === "" ? error.message : `Then: ${error.message}`) : "Reading …"}</p>
      </Frame>
    );
  const tabs = [
    ...(column ? [{ key: "why", name: "Why" }] : []),
    { key: "who", name: "Who" },
    { key: "rules", name: "Rules" },
    { key: "life", name: "Life" },
    ...(slip.life.views30 !== null && !slip.asOf ? [{ key: "reads", name: "Reads" }] : []),
  ];
  const shown = tabs.some(({ key }) => key === tab) ? tab : "who";
  const state = STATES_SAID[slip.state];
  return (
    <Frame
      label={`Slip of ${slip.title}`}
      above={[...slip.path, state ? `${KINDS[slip.kind]}, ${state}` : KINDS[slip.kind]].join(" / ")}
      title={slip.title}
      head={
        <>
          {slip.asOf && (
            <p className={styles.asOf}>
              As of <When instant={slip.asOf} />: to be read, not changed.
            </p>
          )}
          <Links slip={slip} />
          {slip.mayStepIn && <StepIn id={id} />}
        </>
      }
      onClose={onClose}
    >
      <Tabs tabs={tabs} shown={shown} onTab={onTab} />
      <div role="tabpanel" className={styles.panel}>
        {shown === "why" && column && <WhyTab place={id} column={column} at={at} onGo={(to) => onGo(to, "rules")} />}
        {shown === "who" && <WhoTab slip={slip} onWhy={(key) => onTab("why", key)} />}
        {shown === "rules" && (slip.asOf ? <RulesThen slip={slip} /> : <RulesTab slip={slip} />)}
        {shown === "reads" && (
          <Suspense fallback={<p className="soft">Reading …</p>}>
            <ReadsTab id={id} alone={slip.kind !== "space"} />
          </Suspense>
        )}
        {shown === "life" && (slip.asOf ? <LifeThen slip={slip} /> : <LifeTab slip={slip} onGo={(to) => onGo(to, "life")} />)}
      </div>
    </Frame>
  );
}
