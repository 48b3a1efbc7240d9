/** The review of a page in its slip: when it was confirmed, how often it is looked at, its flags; confirming and flagging it. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type PageReview, readPageReview, settleReview } from "../../contracts/review.ts";
import type { Slip } from "../../contracts/slip.ts";
import { PeriodField } from "../../ui/PeriodField.tsx";
import { When } from "../../ui/When.tsx";
import { tray } from "../change/store.ts";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import { FlagForm } from "./FlagForm.tsx";
import { FlagList } from "./FlagList.tsx";
import styles from "./review.module.css";

interface Props {
  slip: Slip;
  review: PageReview;
}

/** How often it is looked at: changed through the tray. */
function Period({ slip, review }: Props) {
  const { period, ofSpace, maySetPeriod } = review;
  const [typed, setTyped] = useState<number | null | undefined>(undefined);
  const words = period
    ? `every ${period} days`
    : ofSpace
      ? `every ${ofSpace} days, as its space has it`
      : "never by itself: neither it nor its space has a review period";
  const put = () => {
    const to = typed ?? null;
    const edit = { kind: "reviewPeriod" as const, place: slip.id, from: period, to };
    tray.stage(
      { id: slip.id, title: slip.title },
      "reviewPeriod",
      edit,
      `looked at again: ${to ? `every ${to} days` : "as its space has it"}`,
    );
    say(`In the tray: how often ${slip.title} is looked at.`);
    setTyped(undefined);
  };
  return (
    <p>
      Looked at again {words}.{" "}
      {maySetPeriod && typed === undefined && (
        <button type="button" className="textButton" onClick={() => setTyped(period)}>
          change
        </button>
      )}
      {typed !== undefined && (
        <span className={styles.period}>
          <PeriodField label="Days until it is looked at again (empty: as its space has it)" value={period} onChange={setTyped} />
          <button type="button" className="button" disabled={typed === period} onClick={put}>
            To the tray
          </button>
          <button type="button" className="button plain" onClick={() => setTyped(undefined)}>
            Leave it
          </button>
        </span>
      )}
    </p>
  );
}

function Confirming({ slip, review }: Props) {
  const open = review.flags.filter(({ outcome }) => outcome === null);
  const isDue = review.due !== null && Date.parse(review.due) <= Date.now();
  const confirm = useMutation({
    mutationFn: () =>
      ask(settleReview, {
        body: { rows: [{ place: slip.id, flags: open.map(({ id }) => id), due: isDue }], outcome: "confirmed", reason: "" },
      }),
    onSuccess: async ({ seq, skipped }) => {
      if (seq !== null) tray.done(seq, `${slip.title} is confirmed as it is`, true);
      say(skipped[0]?.why ?? `${slip.title} is confirmed.`);
      await queries.invalidateQueries();
    },
  });
  return (
    <>
      <button type="button" className="button" disabled={confirm.isPending} onClick={() => confirm.mutate()}>
        Confirm it as it is
      </button>
      {confirm.error && <p className="notice bad">{confirm.error.message}</p>}
    </>
  );
}

export function ReviewPart({ slip }: { slip: Slip }) {
  const [flagging, setFlagging] = useState(false);
  const { data: review } = useQuery({ queryKey: ["pageReview", slip.id], queryFn: () => ask(readPageReview, { params: { id: slip.id } }) });
  if (!review) return null;
  const { confirmedAt, confirmedBy, due, asideUntil, flags, mayConfirm, mayFlag } = review;
  return (
    <section aria-label="Review">
      <h3>
        Review <span className="soft">{flags.filter(({ outcome }) => outcome === null).length || ""}</span>
      </h3>
      <p>
        {confirmedAt ? (
          <>
            Confirmed <When instant={confirmedAt} as="day" />
            {confirmedBy && ` by ${confirmedBy}`}.
          </>
        ) : (
          "Never confirmed."
        )}{" "}
        {due && (
          <>
            {Date.parse(due) <= Date.now() ? "Due since " : "Due "}
            <When instant={due} as="day" />
            {asideUntil && Date.parse(asideUntil) > Date.now() ? ", set aside until then" : ""}.
          </>
        )}
      </p>
      <Period slip={slip} review={review} />
      {flags.length > 0 && <FlagList flags={flags} />}
      <span className="acts">
        {mayConfirm && <Confirming slip={slip} review={review} />}
        {mayFlag && !flagging && (
          <button type="button" className="button" onClick={() => setFlagging(true)}>
            Flag it …
          </button>
        )}
      </span>
      {flagging && <FlagForm places={[slip.id]} words={slip.title} onDone={() => setFlagging(false)} />}
    </section>
  );
}
