/** Passes as lines: what for, by whom, until when, how used; withdrawn with one key. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { type PassRow, readPasses, withdrawPass } from "../../contracts/passes.ts";
import { When } from "../../ui/When.tsx";
import { tray } from "../change/store.ts";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import styles from "./passes.module.css";

const STATES = {
  works: "",
  withdrawn: "withdrawn",
  over: "over",
  closed: "closed by a fence, a ceiling or the state of the page",
} as const;

const used = ({ uses, usedAt }: PassRow) =>
  usedAt === null ? (
    "never used"
  ) : (
    <>
      used {uses.toLocaleString("en")} {uses === 1 ? "time" : "times"}, last <When instant={usedAt} as="day" />
    </>
  );

function Line({ pass, placed }: { pass: PassRow; placed: boolean }) {
  const withdraw = useMutation({
    mutationFn: () => ask(withdrawPass, { params: { id: pass.id } }),
    onSuccess: async ({ seq }) => {
      tray.done(seq, `The pass for ${pass.place.name} was withdrawn: whoever holds it sees nothing any more`, false);
      say("Withdrawn.");
      await queries.invalidateQueries();
    },
  });
  return (
    <li data-gone={pass.state === "withdrawn" || pass.state === "over"}>
      <span>
        <strong dir="auto">{pass.name ?? "came in with a document, without a link"}</strong>
        {STATES[pass.state] && <em>{STATES[pass.state]}</em>}
        <small className="soft">
          {placed && (
            <>
              <a href={`/grid?place=${encodeURIComponent(pass.place.id)}&tab=rules`} dir="auto">
                {pass.place.name}
              </a>{" "}
              in {pass.space}
              {pass.below && ", with what is below"};{" "}
            </>
          )}
          {!placed && pass.below && "with what is below; "}
          {pass.at && (
            <>
              by {pass.by} <When instant={pass.at} as="day" />;{" "}
            </>
          )}
          {pass.until ? (
            <>
              until <When instant={pass.until} as="end" />
            </>
          ) : (
            "until withdrawn"
          )}
          ; {used(pass)}
        </small>
      </span>
      {pass.state !== "withdrawn" && (
        <button
          type="button"
          className="button"
          disabled={withdraw.isPending}
          onClick={() => withdraw.mutate()}
          aria-label={`Withdraw the pass ${pass.name ?? ""} for ${pass.place.name}`}
        >
          Withdraw
        </button>
      )}
      {withdraw.error && (
        <p className="notice bad" role="alert">
          {withdraw.error.message}
        </p>
      )}
    </li>
  );
}

interface Props {
  /** One place, or (null) the whole site as far as one may know. */
  place: string | null;
  /** Whether each says where it stands. */
  placed: boolean;
  none: string;
}

export function PassList({ place, placed, none }: Props) {
  const { data, error } = useQuery({
    queryKey: ["passes", place],
    queryFn: () => ask(readPasses, { query: place === null ? {} : { place } }),
  });
  if (error) return <p className="notice bad">{error.message}</p>;
  if (!data) return null;
  if (data.passes.length === 0) return <p className="soft">{none}</p>;
  return (
    <>
      <ul className={styles.passes}>
        {data.passes.map((pass) => (
          <Line key={pass.id} pass={pass} placed={placed} />
        ))}
      </ul>
      {data.more > 0 && <p className="soft">and {data.more.toLocaleString("en")} older ones</p>}
    </>
  );
}
