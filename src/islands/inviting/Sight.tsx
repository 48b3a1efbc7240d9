/** What somebody who is asked in would see: by space, and what comes besides through groups and audiences. */
import type { Sight as SightOf } from "../../contracts/inviting.ts";
import { LevelBars } from "../people/LevelBars.tsx";
import styles from "./inviting.module.css";

const pages = (count: number): string => `${count.toLocaleString("en")} ${count === 1 ? "page" : "pages"}`;

/** Pages that are not at or below the places named: the first of them, and how many one may not see oneself. */
function Besides({ sight, places }: { sight: SightOf; places: readonly string[] }) {
  const count = sight.spaces.reduce((sum, it) => sum + it.besides, 0);
  const shown = sight.besides.slice(0, 12);
  if (count === 0) return <p className="soft">Nothing besides: no group and no audience opens anything else to them.</p>;
  return (
    <details>
      <summary>
        {pages(count)} besides {places.length > 0 ? "what you named" : ""}, through groups and what is open to everybody signed in
      </summary>
      <p>
        {shown.map(({ name }) => name).join(", ")}
        {count > shown.length && ` and ${(count - shown.length).toLocaleString("en")} more`}
        {sight.hidden > 0 && <span className="soft"> ({sight.hidden.toLocaleString("en")} of them you cannot see yourself)</span>}
      </p>
    </details>
  );
}

export const Sight = ({ sight, places }: { sight: SightOf; places: readonly string[] }) => (
  <>
    {sight.spaces.length === 0 ? (
      <p className="soft">Nothing yet: what is not live, or closed to guests by a fence or a ceiling, stays closed.</p>
    ) : (
      <table className={styles.sight}>
        <tbody>
          {sight.spaces.map(({ space, levels }) => (
            <tr key={space.id}>
              <th scope="row" dir="auto">
                {space.name}
              </th>
              <td>
                <LevelBars levels={levels} />
              </td>
            </tr>
          ))}
          {sight.more > 0 && (
            <tr>
              <td colSpan={2} className="soft">
                and in {sight.more} more spaces
              </td>
            </tr>
          )}
        </tbody>
      </table>
    )}
    <Besides sight={sight} places={places} />
  </>
);
