/** Tokens: made, shown once, listed without themselves, withdrawn. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { listTokens, makeToken, type TokenView, withdrawToken } from "../../contracts/house.ts";
import { SCOPE_NAMES, TOKEN_SCOPES, type TokenScope } from "../../contracts/tokens.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { longDate } from "../../ui/dates.ts";
import { TextField } from "../../ui/TextField.tsx";
import { ask } from "../shared/api.ts";
import styles from "./house.module.css";

const stateOf = (token: TokenView): string => {
  if (token.withdrawnAt) return `withdrawn ${longDate(token.withdrawnAt)}`;
  if (token.until && Date.parse(token.until) <= Date.now()) return `over since ${longDate(token.until)}`;
  return token.usedAt ? `last used ${longDate(token.usedAt)}` : "not used yet";
};

/** A token that was just made: the only time it is seen. */
const Shown = ({ token, onDone }: { token: string; onDone(): void }) => (
  <div className="notice good" role="status">
    <p>Copy it now: it is not shown again.</p>
    <code className={styles.token}>{token}</code>{" "}
    <button type="button" className="button plain" onClick={onDone}>
      I have it
    </button>
  </div>
);

const TokenLine = ({ token, onWithdraw }: { token: TokenView; onWithdraw(): void }) => (
  <li data-gone={token.withdrawnAt !== null}>
    <span>
      {token.name}{" "}
      <small className="soft">
        {token.scopes.join(", ")} · made by {token.madeBy} {longDate(token.madeAt)} · {stateOf(token)}
      </small>
    </span>
    {!token.withdrawnAt && (
      <button type="button" className="button plain" onClick={onWithdraw}>
        Withdraw
      </button>
    )}
  </li>
);

/** What a token may be used for, one or several. */
const Scopes = ({ chosen, onChoose }: { chosen: TokenScope[]; onChoose(scopes: TokenScope[]): void }) =>
  TOKEN_SCOPES.map((scope) => (
    <label key={scope} className={styles.scope}>
      <input
        type="checkbox"
        checked={chosen.includes(scope)}
        onChange={(event) => onChoose(event.target.checked ? [...chosen, scope] : chosen.filter((it) => it !== scope))}
      />{" "}
      may {SCOPE_NAMES[scope]}
    </label>
  ));

export function Tokens() {
  const cache = useQueryClient();
  const { data: tokens = [], error } = useQuery({ queryKey: ["tokens"], queryFn: () => ask(listTokens) });
  const [name, setName] = useState("");
  const [scopes, setScopes] = useState<TokenScope[]>(["decisions"]);
  const [shown, setShown] = useState("");
  const [problem, setProblem] = useState("");
  const attempt = async (work: () => Promise<void>) => {
    try {
      setProblem("");
      await work();
      await cache.invalidateQueries({ queryKey: ["tokens"] });
    } catch (it) {
      setProblem((it as Error).message);
    }
  };
  const make = () =>
    attempt(async () => {
      setShown((await ask(makeToken, { body: { name, scopes } })).token);
      setName("");
    });
  return (
    <section className={styles.section} aria-labelledby="tokens">
      <h1 id="tokens">Tokens</h1>
      <p className="soft">A key for a program. It is shown once; afterwards only its name and when it was used.</p>
      <div className={styles.line}>
        <TextField label="What it is for" value={name} onChange={setName} most={LIMITS.name} />
        <button
          type="button"
          className="button"
          disabled={!hasWords(name) || name.length > LIMITS.name || scopes.length === 0}
          onClick={make}
        >
          Make a token
        </button>
      </div>
      <Scopes chosen={scopes} onChoose={setScopes} />
      {shown && <Shown token={shown} onDone={() => setShown("")} />}
      {(problem || error) && (
        <p className="notice bad" role="alert">
          {problem || error?.message}
        </p>
      )}
      <ul className={styles.list}>
        {tokens.map((token) => (
          <TokenLine
            key={token.id}
            token={token}
            onWithdraw={() => attempt(async () => void (await ask(withdrawToken, { params: { id: token.id } })))}
          />
        ))}
      </ul>
      {tokens.length === 0 && !error && <p className="soft">No token was made yet.</p>}
    </section>
  );
}
