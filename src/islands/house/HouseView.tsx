/** House: access as code (out and in), exports for auditors, tokens for programs. For site keepers. */
import { QueryClientProvider } from "@tanstack/react-query";
import { queries } from "../shared/api.ts";
import { Bringing } from "./Bringing.tsx";
import { Exports } from "./Exports.tsx";
import styles from "./house.module.css";
import { Tokens } from "./Tokens.tsx";

export default function HouseView() {
  return (
    <QueryClientProvider client={queries}>
      <div className={styles.view}>
        <Exports />
        <div className={styles.stacked}>
          <Bringing />
          <Tokens />
        </div>
      </div>
    </QueryClientProvider>
  );
}
