/** House: its rules, its mail, access as code (out and in), exports for auditors, tokens for programs. For site keepers. */
import { QueryClientProvider } from "@tanstack/react-query";
import { Pledges } from "../pledges/Pledges.tsx";
import { queries } from "../shared/api.ts";
import { useAddress } from "../shared/useAddress.ts";
import { Bringing } from "./Bringing.tsx";
import { Exports } from "./Exports.tsx";
import { HouseRules } from "./HouseRules.tsx";
import styles from "./house.module.css";
import { Outbox } from "./Outbox.tsx";
import { Tokens } from "./Tokens.tsx";

const PARTS = { rules: "Rules", pledges: "Pledges", outbox: "Outbox", files: "Out and in", tokens: "Tokens" } as const;
type Part = keyof typeof PARTS;

function read(): { part: Part } {
  const part = new URLSearchParams(window.location.search).get("part") as Part;
  return { part: part in PARTS ? part : "rules" };
}

function View() {
  const [{ part }, change] = useAddress(read, (state) => (state.part === "rules" ? window.location.pathname : `?part=${state.part}`));
  return (
    <div className={styles.house}>
      <div className="viewBar">
        <fieldset className={styles.parts}>
          <legend className="unseen">Parts</legend>
          {(Object.keys(PARTS) as Part[]).map((it) => (
            <button key={it} type="button" aria-pressed={part === it} onClick={() => change({ part: it })}>
              {PARTS[it]}
            </button>
          ))}
          <a href="/templates">Templates</a>
        </fieldset>
      </div>
      <div className={styles.view}>
        {part === "rules" && <HouseRules />}
        {part === "pledges" && <Pledges />}
        {part === "outbox" && <Outbox />}
        {part === "tokens" && <Tokens />}
        {part === "files" && (
          <>
            <Exports />
            <Bringing />
          </>
        )}
      </div>
    </div>
  );
}

export default function HouseView() {
  return (
    <QueryClientProvider client={queries}>
      <View />
    </QueryClientProvider>
  );
}
