/** The sheet of what is done to many: the common ripple and what breaks, then the job. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { lookAtMany, type ManyBody, orderJob } from "../../contracts/jobs.ts";
import type { LifeAct } from "../../core/lifecycle/index.ts";
import { ChangeSheet } from "../change/ChangeSheet.tsx";
import { useStaged } from "../change/staged.ts";
import { Breaks } from "../life/Breaks.tsx";
import { Choices, missing } from "../life/Choices.tsx";
import styles from "../life/life.module.css";
import { Typed } from "../life/Typed.tsx";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import { closeMany } from "./opened.ts";

/** The act of an order, as the parts of the sheet of an act know it. */
const actOf = (many: ManyBody): LifeAct => ({ ...many, act: many.act as LifeAct["act"], places: [] }) as LifeAct;

export default function ManySheet({ first }: { first: ManyBody }) {
  const [many, setMany] = useState(first);
  const [typed, setTyped] = useState("");
  const looked = useQuery({
    queryKey: ["many", many],
    queryFn: () => ask(lookAtMany, { body: { order: many } }),
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  const sheet = looked.data;
  const isAct = !["tag", "readiness", "period"].includes(many.act);
  const erases = many.act === "erase";
  const staged = useStaged({
    preview: sheet && !looked.isFetching ? sheet : null,
    apply: (acting) =>
      ask(orderJob, { body: { order: { ...many, ...(erases ? { pages: Number(typed) } : {}) }, count: sheet?.count ?? 0, ...acting } }),
    onDone: async () => {
      say(`${sheet?.title}: under way.`);
      closeMany();
      await queries.invalidateQueries();
    },
    again: () => void looked.refetch(),
  });
  if (!sheet) return <p className="soft">{looked.error?.message ?? "Looking at what it would do …"}</p>;
  const act = actOf(many);
  const off = isAct ? missing(act, { ...sheet, choices: sheet.choices.filter(({ choose }) => choose !== "landing") }) : "";
  const mistyped = erases && typed.trim() !== String(sheet.count) ? "Type the number first." : "";
  const choose = ({ below, to, arrive, back }: LifeAct) =>
    setMany({
      ...many,
      ...(below ? { below } : {}),
      ...(to === undefined ? {} : { to }),
      ...(arrive ? { arrive } : {}),
      ...(back === undefined ? {} : { back }),
    });
  return (
    <>
      <h2>{sheet.title}</h2>
      <div className={styles.blocks}>
        {sheet.misfits.map((it) => (
          <p key={it} className="notice">
            {it}
          </p>
        ))}
        {isAct && <Breaks sheet={sheet} />}
        {isAct && (
          <Choices
            act={act}
            asJob
            sheet={{
              ...sheet,
              choices: sheet.choices.filter(({ choose: what }) => what !== "landing"),
              returning: sheet.returning.filter(({ pass }) => !pass),
            }}
            onChange={choose}
          />
        )}
        {sheet.choices.some(({ choose: what }) => what === "landing") && (
          <p className="notice">Landing pages among them are left out: another has to be chosen for each, one by one.</p>
        )}
        {erases && <Typed count={sheet.count} value={typed} onChange={setTyped} />}
        <ChangeSheet
          staged={{ ...staged, way: { ...staged.way, off: off || mistyped || staged.way.off } }}
          act={sheet.label}
          leave={{ words: "Leave it", go: closeMany }}
          folded="Readers: who, where, before and after"
        >
          <h3>Readers</h3>
        </ChangeSheet>
        <p className={styles.back}>
          Done in batches of a hundred; it can be stopped between two.{" "}
          {erases ? "What is erased cannot be taken back." : "All of it can be taken back as one."}
        </p>
      </div>
    </>
  );
}
