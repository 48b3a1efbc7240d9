/** The outbox: mail as it was or would be sent, each opened where it stands. */
import { useQuery } from "@tanstack/react-query";
import { readOutbox } from "../../contracts/house.ts";
import { When } from "../../ui/When.tsx";
import { ask } from "../shared/api.ts";
import styles from "./house.module.css";

export function Outbox() {
  const { data: outbox, error } = useQuery({ queryKey: ["outbox"], queryFn: () => ask(readOutbox) });
  return (
    <section className={styles.section} aria-labelledby="outbox">
      <h1 id="outbox">Outbox</h1>
      {error && <p className="notice bad">{error.message}</p>}
      {outbox && (
        <>
          <p className="soft">
            {outbox.sends ? "Mail as it was sent." : "Nothing sends mail here: it is kept as it would be sent. Set TESORO_SMTP to send it."}
            {outbox.waiting > 0 && ` ${outbox.waiting} on the way.`}
            {outbox.failed > 0 && <strong> {outbox.failed} could not be sent, and were given up.</strong>}
          </p>
          {outbox.mails.length === 0 && <p className="soft">No mail yet: invitations and new passwords make the first.</p>}
          <ul className={styles.mails}>
            {outbox.mails.map((mail) => (
              <li key={mail.id}>
                <details>
                  <summary>
                    <span>{mail.subject}</span>
                    <small className="soft">
                      to {mail.to}, <When instant={mail.at} />
                    </small>
                  </summary>
                  <pre className={styles.mail} dir="auto">
                    {mail.body}
                  </pre>
                  <a href={`/api/outbox/${mail.id}`}>As a file (.eml)</a>
                </details>
              </li>
            ))}
          </ul>
          {outbox.more > 0 && <p className="soft">and {outbox.more.toLocaleString("en")} older ones</p>}
        </>
      )}
    </section>
  );
}
