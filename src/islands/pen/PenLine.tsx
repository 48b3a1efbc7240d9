/** Who has the pen, said on top of what stands beside the text; what one can do about it. */
import { useEffect, useState } from "react";
import type { Pen } from "../../contracts/pen.ts";
import { When } from "../../ui/When.tsx";
import styles from "./pen.module.css";
import type { PenHere } from "./usePen.ts";

const MINUTE = 60_000;

/** "typed just now", "typed nothing for 4 minutes". */
function idleWords(typedAt: string, now: number): string {
  const minutes = Math.floor((now - Date.parse(typedAt)) / MINUTE);
  return minutes < 1 ? "typed just now" : `typed nothing for ${minutes} ${minutes === 1 ? "minute" : "minutes"}`;
}

function Mine({ asking, act }: { asking: Pen["asking"]; act: PenHere["act"] }) {
  if (!asking) return null;
  return (
    <div className={styles.pen} role="alert">
      <p>
        <strong dir="auto">{asking.name}</strong> asks for the pen. What you typed stays yours, and is kept.
      </p>
      <div className="acts">
        <button type="button" className="button go" onClick={() => act("hand")}>
          Hand it over
        </button>
        <button type="button" className="button" onClick={() => act("keep")}>
          Not now
        </button>
      </div>
    </div>
  );
}

/** `lost`: words of one's own that are in no version, now that somebody else has the pen. */
export function PenLine({ here, lost }: { here: PenHere; lost: boolean }) {
  const { pen, problem, act } = here;
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const tick = setInterval(() => setNow(Date.now()), 15_000);
    return () => clearInterval(tick);
  }, []);
  if (!pen) return null;
  const said = problem && (
    <p className="notice bad" role="alert">
      {problem}
    </p>
  );
  if (pen.holder?.mine)
    return (
      <>
        <Mine asking={pen.asking} act={act} />
        {said}
      </>
    );
  if (!pen.holder)
    return (
      <div className={styles.pen} role="status">
        <p>Nobody has the pen.</p>
        <div className="acts">
          <button type="button" className="button go" onClick={() => act("take")}>
            Take the pen
          </button>
        </div>
        {said}
      </div>
    );
  return (
    <div className={styles.pen} role="status">
      <p>
        <strong dir="auto">{pen.holder.name}</strong> has the pen since <When instant={pen.holder.since} />, and{" "}
        {idleWords(pen.holder.typedAt, now)}.{lost && " What you typed before is kept; with the pen you can save it beside theirs."}
      </p>
      <div className="acts">
        {pen.asking?.mine ? (
          <span className="soft">You asked for it.</span>
        ) : (
          <button type="button" className="button" onClick={() => act("ask")}>
            Ask for it
          </button>
        )}
        <button
          type="button"
          className="button"
          aria-disabled={pen.untakable !== ""}
          title={pen.untakable || undefined}
          onClick={() => pen.untakable === "" && act("take")}
        >
          Take it
        </button>
      </div>
      {pen.untakable && <small className="soft">{pen.untakable}</small>}
      {said}
    </div>
  );
}
