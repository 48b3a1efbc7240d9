/** The state of a view in its address: sent to somebody, and gone through with the browser's Back and Forward. */
import { useCallback, useEffect, useRef, useState } from "react";

/** So long after the last letter, typing on is a step of its own. */
const ONE_STEP = 1_500;

/**
 * The state and a function that changes parts of it. Each change is a step that Back undoes; small ones (the letters of
 * a filter that is being typed) are one step together.
 */
export function useAddress<State extends object>(
  read: () => State,
  addressOf: (state: State) => string,
): [State, (change: Partial<State>, step?: "small") => void] {
  const [state, setState] = useState(read);
  const latest = useRef(state);
  const lastSmall = useRef(0);
  useEffect(() => {
    const back = () => {
      latest.current = read();
      lastSmall.current = 0;
      setState(latest.current);
    };
    window.addEventListener("popstate", back);
    return () => window.removeEventListener("popstate", back);
  }, []);
  const change = useCallback((part: Partial<State>, step?: "small") => {
    const next = { ...latest.current, ...part };
    const before = addressOf(latest.current);
    const address = addressOf(next);
    const now = Date.now();
    const goesOn = step === "small" && now - lastSmall.current < ONE_STEP;
    lastSmall.current = step === "small" ? now : 0;
    if (address === before || goesOn) window.history.replaceState(null, "", address);
    else window.history.pushState(null, "", address);
    latest.current = next;
    setState(next);
  }, []);
  return [state, change];
}
