/** Outside: what strangers can see, and since when. Its parts stand in the address. */
import { QueryClientProvider } from "@tanstack/react-query";
import { IdleRules } from "../idle/IdleRules.tsx";
import { PassList } from "../passes/PassList.tsx";
import { queries } from "../shared/api.ts";
import { KeyHelp } from "../shared/KeyHelp.tsx";
import { Parts } from "../shared/Parts.tsx";
import parts from "../shared/parts.module.css";
import { useAddress } from "../shared/useAddress.ts";
import { type OutsideState, PARTS, read, written } from "./address.ts";
import { Compare } from "./Compare.tsx";
import { Crawl } from "./Crawl.tsx";
import { Findings } from "./Findings.tsx";
import { Guests } from "./Guests.tsx";
import styles from "./outside.module.css";
import { PublicPages } from "./PublicPages.tsx";

const KEYS: [string, string][] = [
  ["↓ ↑", "from page to page"],
  ["y", "meant to be outside, or not any more"],
  ["c", "closes it to the public: the best change goes to the tray"],
  ["Enter", "its rules"],
  ["Space", "of guests: chooses one"],
  ["s", "of findings: sets a page’s aside, with a reason"],
  ["e, s, u", "of guests: ends their time, shortens it, withdraws what is unused"],
  ["p", "of guests: their slip"],
  ["m", "of idle rules: puts what mends it in the tray"],
];

interface Props {
  /** Looking back is for site keepers. */
  keepsSite: boolean;
}

function View({ keepsSite }: Props) {
  const [state, change] = useAddress<OutsideState>(read, written);
  return (
    <div className={parts.whole}>
      <Parts label="Parts of Outside" parts={PARTS} shown={state.part} onShow={(part) => change({ part })} />
      {state.part === "public" && <PublicPages state={state} onChange={change} />}
      {state.part === "guests" && <Guests state={state} onChange={change} />}
      {state.part === "passes" && (
        <div className={styles.compare}>
          <PassList
            place={null}
            placed
            none="There is no pass, as far as you may see rules. Make one where it is to lead: in the rules of a page."
          />
        </div>
      )}
      {state.part === "crawl" &&
        (keepsSite ? (
          <Crawl state={state} onChange={change} />
        ) : (
          <p className="message">The site is walked by those who keep the whole of it: what a crawler finds stands here for them.</p>
        ))}
      {state.part === "findings" && <Findings state={state} onChange={change} />}
      {state.part === "compare" && <Compare state={state} looksBack={keepsSite} onChange={change} />}
      {state.part === "idle" && <IdleRules kind={state.kind} onKind={(kind) => change({ kind })} />}
      <KeyHelp name="Outside" keys={KEYS} />
    </div>
  );
}

export default function OutsideView(props: Props) {
  return (
    <QueryClientProvider client={queries}>
      <View {...props} />
    </QueryClientProvider>
  );
}
