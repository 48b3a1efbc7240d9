/** Says what was done to those who do not see the screen: one line of the frame that is read out when it changes. */

import { withLocalDates } from "../../ui/dates.ts";

let turn = false;

export function say(words: string): void {
  const line = document.getElementById("said");
  if (!line || words === "") return;
  // The same words twice are said twice: a blank that nobody hears tells them apart.
  turn = !turn;
  const told = withLocalDates(words);
  line.textContent = turn ? told : `${told}\u00a0`;
}
