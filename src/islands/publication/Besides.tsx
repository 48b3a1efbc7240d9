/** What goes with it: the helpers, each kept or withdrawn; its owner, tags and readiness. */
import { useState } from "react";
import { isTag, MOST_TAGS } from "../../contracts/checks.ts";
import type { PublicationSheet } from "../../contracts/publication.ts";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { findPersons, type PrincipalChoice } from "../shared/people.ts";
import type { Order } from "./order.ts";
import styles from "./publication.module.css";

interface Props {
  sheet: PublicationSheet;
  order: Order;
  onChange(change: Partial<Order>): void;
}

export function Helpers({ sheet, order, onChange }: Props) {
  if (sheet.helpers.length === 0) return null;
  const staying = order.what === "place" || order.what === "submit";
  return (
    <section className={styles.part} aria-label="Helpers">
      <h3>
        Helpers <span className="soft">{staying ? "go on helping until it is live" : "leave when it goes live"}</span>
      </h3>
      <ul className={styles.helpers}>
        {sheet.helpers.map(({ key, name, can }) => {
          const kept = order.keep.includes(key);
          const put = (keep: boolean) => onChange({ keep: keep ? [...order.keep, key] : order.keep.filter((it) => it !== key) });
          return (
            <li key={key}>
              <span dir="auto">{name}</span> <small className="soft">{can}</small>
              {!staying && (
                <span className={styles.choices}>
                  <label>
                    <input type="radio" name={`helper-${key}`} checked={!kept} onChange={() => put(false)} /> withdraw
                  </label>
                  <label title={sheet.mayKeepHelpers ? undefined : "Keeping somebody needs Keeper there."}>
                    <input
                      type="radio"
                      name={`helper-${key}`}
                      checked={kept}
                      disabled={!sheet.mayKeepHelpers && !kept}
                      onChange={() => put(true)}
                    />{" "}
                    keep
                  </label>
                </span>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function Tags({ sheet, onChange }: { sheet: PublicationSheet; onChange(tags: string[]): void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const wanted = [...new Set((typed ?? "").split(",").map((it) => it.trim()))].filter(Boolean);
  const wrong = wanted.find((it) => !isTag(it));
  const problem =
    wrong !== undefined
      ? `“${wrong.slice(0, 40)}” is no tag: words of at most 40 characters.`
      : wanted.length > MOST_TAGS
        ? `At most ${MOST_TAGS} tags.`
        : "";
  return (
    <>
      {sheet.tags.join(", ") || "none"}{" "}
      {sheet.mayTag && (
        <button
          type="button"
          className="textButton"
          aria-expanded={typed !== null}
          onClick={() => setTyped(typed === null ? sheet.tags.join(", ") : null)}
        >
          change
        </button>
      )}
      {typed !== null && (
        <span className={styles.tagging}>
          <TextField label="Tags, with commas between" value={typed} onChange={setTyped} />
          <button
            type="button"
            className="button"
            disabled={problem !== ""}
            onClick={() => {
              onChange(wanted);
              setTyped(null);
            }}
          >
            Take these
          </button>
          {problem && <small role="status">{problem}</small>}
        </span>
      )}
    </>
  );
}

function Owner({ sheet, onChange }: { sheet: PublicationSheet; onChange(owner: string): void }) {
  const [changing, setChanging] = useState(false);
  return (
    <>
      {sheet.owner?.name ?? "nobody"}{" "}
      {sheet.mayHandOver && (
        <button type="button" className="textButton" aria-expanded={changing} onClick={() => setChanging(!changing)}>
          hand over
        </button>
      )}
      {changing && (
        <Picker<PrincipalChoice>
          label="New owner"
          find={findPersons}
          onChoose={({ principal }) => {
            if ("person" in principal) onChange(principal.person);
            setChanging(false);
          }}
          autoFocus
        />
      )}
    </>
  );
}

export function Marks({ sheet, onChange }: Pick<Props, "sheet" | "onChange">) {
  return (
    <section className={styles.part} aria-label="Owner, tags and readiness">
      <dl className={styles.marks}>
        <div>
          <dt>Owner</dt>
          <dd dir="auto">
            <Owner sheet={sheet} onChange={(owner) => onChange({ owner })} />
          </dd>
        </div>
        <div>
          <dt>Tags</dt>
          <dd dir="auto">
            <Tags sheet={sheet} onChange={(tags) => onChange({ tags })} />
          </dd>
        </div>
        {sheet.readinessWords.length > 0 && (
          <div>
            <dt>Readiness</dt>
            <dd>
              <span className={styles.choices}>
                {["", ...sheet.readinessWords].map((word) => (
                  <label key={word}>
                    <input
                      type="radio"
                      name="readiness"
                      checked={sheet.readiness === word}
                      disabled={!sheet.mayTag}
                      onChange={() => onChange({ readiness: word })}
                    />{" "}
                    {word || "none"}
                  </label>
                ))}
              </span>
            </dd>
          </div>
        )}
      </dl>
    </section>
  );
}
