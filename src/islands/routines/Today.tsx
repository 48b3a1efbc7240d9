/** What a routine would touch today, page by page with the reason each fits; asked anew with each change of it. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { lookAtRoutine, type RoutinePreview } from "../../contracts/routines.ts";
import { isAboutGuests } from "../../core/routines/index.ts";
import { ask } from "../shared/api.ts";
import { bodyOf, type Draft } from "./draft.ts";
import styles from "./routines.module.css";

/** `kept`: the routine it is of, where it is kept already. */
export function useToday(draft: Draft, kept: string | undefined) {
  const { name: _, on: __, ...rest } = bodyOf(draft, false);
  const body = { ...rest, ...(kept === undefined ? {} : { kept }) };
  return useQuery({
    queryKey: ["routineLook", body],
    queryFn: () => ask(lookAtRoutine, { body }),
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  });
}

const counted = (count: number, one: string): string => `${count.toLocaleString("en")} ${count === 1 ? one : `${one}s`}`;

/** Everything that fits and is not touched, said with why. */
function leftWords({ leftAlone, notAllowed, beyond }: RoutinePreview, as: string): string {
  const parts = [
    leftAlone > 0 ? `${leftAlone.toLocaleString("en")} left as they are, since it was done to them already` : "",
    notAllowed > 0 ? `${notAllowed.toLocaleString("en")} left as they are, since ${as} may not do it there` : "",
    beyond > 0 ? `${beyond.toLocaleString("en")} wait for another run` : "",
  ];
  return parts.filter(Boolean).join("; ");
}

export function Today({ draft, today }: { draft: Draft; today: ReturnType<typeof useToday> }) {
  const { data, error, isFetching } = today;
  if (error)
    return (
      <p className="notice bad" role="alert">
        {error.message}
      </p>
    );
  if (!data) return <p className="message">Looking what it would touch …</p>;
  const guests = isAboutGuests(draft.which);
  const left = leftWords(data, draft.as.name);
  return (
    <section className={styles.today} aria-label="What it would touch today" aria-busy={isFetching}>
      {data.troubles.map((trouble) => (
        <p key={trouble} className="notice bad">
          {trouble}
        </p>
      ))}
      {data.troubles.length === 0 && (
        <>
          <h3>
            Today it would touch <strong>{counted(data.touches, guests ? "guest" : "page")}</strong>
            <small className="soft">
              {" "}
              of {data.fits.toLocaleString("en")} that fit{left && `; ${left}`}.
            </small>
          </h3>
          {data.rows.length > 0 && (
            <table className={styles.touched}>
              <thead>
                <tr>
                  <th scope="col">{guests ? "Guest" : "Page"}</th>
                  <th scope="col">{guests ? "Brought in by" : "Space"}</th>
                  <th scope="col">Why it fits</th>
                </tr>
              </thead>
              <tbody>
                {data.rows.map(({ id, title, where, reasons }) => (
                  <tr key={id}>
                    <td dir="auto">{guests ? title : <a href={`/grid?place=${encodeURIComponent(id)}&tab=life`}>{title}</a>}</td>
                    <td dir="auto">{where}</td>
                    <td>{reasons.join("; ") || "its state and where it stands"}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {data.touches > data.rows.length && (
            <p className="soft">
              {(data.touches - data.rows.length - data.hidden).toLocaleString("en")} more
              {data.hidden > 0 && `, and ${data.hidden.toLocaleString("en")} that you cannot see`}.
            </p>
          )}
        </>
      )}
    </section>
  );
}
