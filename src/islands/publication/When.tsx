/** When it goes live: now, or at an instant in a zone; and when it is archived by itself. */

import { useState } from "react";
import type { Publication } from "../../contracts/publication.ts";
import { DateField } from "../../ui/DateField.tsx";
import { ownZone, shortDateTime } from "../../ui/dates.ts";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { asIfHere, asIfThere, zonesNamed } from "../../ui/zones.ts";
import type { Order } from "./order.ts";
import styles from "./publication.module.css";

const zoneWords = (zone: string): string => zone.replaceAll("_", " ");

const findZones = async (words: string): Promise<Choice[]> =>
  zonesNamed(words, ownZone()).map((zone) => ({ key: zone, name: zoneWords(zone), note: zone === ownZone() ? "here" : "" }));

interface MomentProps {
  label: string;
  none: string;
  value: string;
  zone: string;
  onChange(instant: string): void;
}

/** A moment on the clocks of a zone; what jumps of these clocks make of it is said. */
function Moment({ label, none, value, zone, onChange }: MomentProps) {
  const [said, setSaid] = useState("");
  const take = (here: string) => {
    const taken = asIfThere(here, zone);
    setSaid(taken.said);
    onChange(taken.instant);
  };
  return (
    <>
      <span className="labelled">
        <span aria-hidden="true">{label}</span>
        <DateField label={label} as="moment" none={none} value={asIfHere(value, zone)} onChange={take} />
      </span>
      {value !== "" && zone !== ownZone() && <small className="soft">{shortDateTime(value)} here</small>}
      {said && (
        <p className="notice" role="status">
          {said}
        </p>
      )}
    </>
  );
}

interface Props {
  order: Order;
  /** What can be chosen, with its words. */
  choices: readonly { what: Publication; words: string; off: string }[];
  onChange(change: Partial<Order>): void;
}

export function When({ order, choices, onChange }: Props) {
  const [archives, setArchives] = useState(order.archive !== "");
  const [zoned, setZoned] = useState(false);
  // The clock on the wall stays what was chosen; the instant follows the zone.
  const inZone = (zone: string) =>
    onChange({
      zone,
      at: asIfThere(asIfHere(order.at, order.zone), zone).instant,
      archive: asIfThere(asIfHere(order.archive, order.zone), zone).instant,
    });
  return (
    <section className={styles.part} aria-label="When">
      <h3>When</h3>
      <fieldset className={styles.choices}>
        <legend className="unseen">When</legend>
        {choices.map(({ what, words, off }) => (
          <label key={what} title={off || undefined}>
            <input type="radio" name="what" checked={order.what === what} disabled={off !== ""} onChange={() => onChange({ what })} />{" "}
            {words}
          </label>
        ))}
      </fieldset>
      {order.what === "schedule" && (
        <Moment label="Goes live" none="day and time" value={order.at} zone={order.zone} onChange={(at) => onChange({ at })} />
      )}
      <label className={styles.tick}>
        <input
          type="checkbox"
          checked={archives}
          onChange={(event) => {
            setArchives(event.target.checked);
            if (!event.target.checked) onChange({ archive: "" });
          }}
        />{" "}
        Archive it by itself later
      </label>
      {archives && (
        <Moment
          label="Is archived"
          none="day and time"
          value={order.archive}
          zone={order.zone}
          onChange={(archive) => onChange({ archive })}
        />
      )}
      {(order.what === "schedule" || archives) && (
        <p className="soft">
          By the clocks of {zoneWords(order.zone)}.{" "}
          <button type="button" className="textButton" aria-expanded={zoned} onClick={() => setZoned(!zoned)}>
            another zone
          </button>
        </p>
      )}
      {zoned && (
        <Picker<Choice>
          label="Zone"
          find={findZones}
          onChoose={({ key }) => {
            inZone(key);
            setZoned(false);
          }}
          autoFocus
        />
      )}
    </section>
  );
}
