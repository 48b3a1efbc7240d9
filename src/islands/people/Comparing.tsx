/** A group beside another: who is in one alone, and what one alone is granted. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Apart, compareGroups, type GroupSlip } from "../../contracts/people.ts";
import { Picker } from "../../ui/Picker.tsx";
import { ask } from "../shared/api.ts";
import { findGroups, type PrincipalChoice } from "../shared/people.ts";
import styles from "./people.module.css";

const people = (count: number): string => `${count.toLocaleString("en")} ${count === 1 ? "person" : "people"}`;

function Alone({ name, apart }: { name: string; apart: Apart }) {
  return (
    <div>
      <h4>
        Only in {name}: {people(apart.count)}
      </h4>
      {apart.people.length > 0 && (
        <p dir="auto">
          {apart.people
            .slice(0, 20)
            .map((it) => it.name)
            .join(", ")}
          {apart.count > 20 && ` and ${(apart.count - 20).toLocaleString("en")} more`}
        </p>
      )}
      <ul className={styles.plainList}>
        {apart.granted.map(({ place, sentence }, i) => (
          <li key={i}>
            {place.name} <small className="soft">{sentence}</small>
          </li>
        ))}
      </ul>
    </div>
  );
}

export function Comparing({ slip }: { slip: GroupSlip }) {
  const [other, setOther] = useState<PrincipalChoice | null>(null);
  const id = other && "group" in other.principal ? other.principal.group : null;
  const { data, error } = useQuery({
    queryKey: ["compared", slip.id, id],
    queryFn: () => ask(compareGroups, { params: { id: slip.id }, query: { with: id ?? "" } }),
    enabled: id !== null,
  });
  const find = async (words: string) => (await findGroups(words)).filter(({ key }) => key !== `group:${slip.id}`);
  return (
    <>
      <h3>Beside another group</h3>
      <Picker<PrincipalChoice> label="Compare with" chosen={other} find={find} onChoose={setOther} className={styles.whom} />
      {error && <p className="notice bad">{error.message}</p>}
      {data && other && (
        <div className={styles.compared} role="status">
          <p>In both: {people(data.both)}</p>
          <Alone name={slip.name} apart={data.here} />
          <Alone name={other.name} apart={data.there} />
        </div>
      )}
    </>
  );
}
