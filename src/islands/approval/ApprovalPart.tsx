/** Approval, beside the text: who waits for whom, and what one can do about it. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { type Approval, type ApprovalAct, answerApproval } from "../../contracts/approval.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { TextField } from "../../ui/TextField.tsx";
import { When } from "../../ui/When.tsx";
import { ask } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import styles from "./approval.module.css";

interface Props {
  id: string;
  approval: Approval;
  /** The newest version, which is the one on the screen. */
  version: string;
  /** Readers get it already: there is nothing to approve. */
  live: boolean;
  /** There are words that no version has. */
  dirty: boolean;
  onDone(): void;
}

const DONE: Readonly<Record<ApprovalAct, string>> = {
  submit: "Given in for approval.",
  withdraw: "It is not given in any more.",
  approve: "Approved: it can be published.",
  sendBack: "Sent back.",
};

/** Who can answer, as far as one may know them. */
function ableWords({ able, ableNames }: Approval): string {
  if (able === 0) return "Nobody else may approve it";
  const more = able - ableNames.length;
  if (ableNames.length === 0) return able === 1 ? "One person may approve it" : `${able.toLocaleString("en")} people may approve it`;
  return `${ableNames.join(", ")}${more > 0 ? ` and ${more.toLocaleString("en")} more` : ""} may approve it`;
}

function Stands({ approval, version }: Pick<Props, "approval" | "version">) {
  const { submission, approved } = approval;
  if (!submission && !approved)
    return (
      <p className="soft">What is published here is approved first, by somebody who wrote none of what is new. {ableWords(approval)}.</p>
    );
  if (!submission || submission.answer === "approved")
    return (
      <p>
        Version {approved} is approved
        {submission?.answeredAt && (
          <>
            {" "}
            by {submission.answeredBy}, <When instant={submission.answeredAt} as="short" />
          </>
        )}
        .{approved !== version && " Newer words are not."}
        {submission?.answerNote && <q dir="auto">{submission.answerNote}</q>}
      </p>
    );
  return (
    <p>
      {submission.answer === "sentBack" ? (
        <>
          {submission.answeredBy} sent version {submission.version} back
          {submission.answeredAt && (
            <>
              , <When instant={submission.answeredAt} as="short" />
            </>
          )}
          :
        </>
      ) : (
        <>
          {submission.by} gave version {submission.version} in, <When instant={submission.at} as="short" />; it waits. {ableWords(approval)}
          .
        </>
      )}
      {(submission.answer ? submission.answerNote : submission.note) && (
        <q dir="auto">{submission.answer ? submission.answerNote : submission.note}</q>
      )}
    </p>
  );
}

/** What can be done now, by whoever looks. */
function actsNow({ approval, version, live }: Props): ApprovalAct[] {
  const { submission, approved, mayApprove } = approval;
  const waits = submission !== null && submission.answer === null;
  const acts: ApprovalAct[] = [];
  if (waits && mayApprove) acts.push("approve");
  if (mayApprove && (waits || submission?.answer === "approved")) acts.push("sendBack");
  if (!live && approved !== version && !(waits && submission.version === version)) acts.push("submit");
  if (waits) acts.push("withdraw");
  return acts;
}

const WORDS: Readonly<Record<ApprovalAct, string>> = {
  submit: "Give it in for approval",
  withdraw: "Take it out again",
  approve: "Approve",
  sendBack: "Send it back",
};

export function ApprovalPart(props: Props) {
  const { id, approval, version, dirty, onDone } = props;
  const [note, setNote] = useState("");
  const answer = useMutation({
    mutationFn: (act: ApprovalAct) =>
      ask(answerApproval, {
        params: { id },
        body: { act, version: act === "submit" ? version : (approval.submission?.version ?? ""), note },
      }),
    onSuccess: (_, act) => {
      setNote("");
      say(DONE[act]);
      onDone();
    },
  });
  const acts = actsNow(props);
  const offFor = (act: ApprovalAct): string =>
    note.length > LIMITS.note
      ? "The note is too long."
      : act === "submit" && dirty
        ? "Save a version first: that is what is given in."
        : act === "sendBack" && !hasWords(note)
          ? "Say in the note what is to be done."
          : "";
  return (
    <section className={styles.approval} aria-label="Approval">
      <h3>Approval</h3>
      <Stands approval={approval} version={version} />
      {acts.length > 0 && (
        <>
          <TextField label="What is to be known" value={note} onChange={setNote} most={LIMITS.note} />
          <div className="acts">
            {acts.map((act) => (
              <button
                key={act}
                type="button"
                className={act === "approve" ? "button go" : act === "withdraw" ? "button plain" : "button"}
                aria-disabled={offFor(act) !== "" || answer.isPending}
                title={offFor(act) || undefined}
                onClick={() => offFor(act) || answer.isPending || answer.mutate(act)}
              >
                {WORDS[act]}
              </button>
            ))}
          </div>
        </>
      )}
      {answer.error && (
        <p className="notice bad" role="alert">
          {answer.error.message}
        </p>
      )}
      {approval.submission && (
        <p>
          <a href={`/versions/${id}?to=${approval.submission.version}`}>What is new in it</a>
        </p>
      )}
    </section>
  );
}
