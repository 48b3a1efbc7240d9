/** The sheets of acts, on one page or on many, wherever in the workplace they are asked for. They come when they are. */
import { QueryClientProvider } from "@tanstack/react-query";
import { lazy, useEffect } from "react";
import { closeMany, useOpenedMany } from "../jobs/opened.ts";
import { queries } from "../shared/api.ts";
import { actOfAddress, closeAct, openAct, useOpenedAct } from "./opened.ts";
import { SheetPanel } from "./SheetPanel.tsx";

const ActBody = lazy(() => import("./ActBody.tsx"));
const ManySheet = lazy(() => import("../jobs/ManySheet.tsx"));

function Host() {
  const opened = useOpenedAct();
  const many = useOpenedMany();
  useEffect(() => {
    const asked = actOfAddress();
    if (asked) openAct(asked);
  }, []);
  return (
    <>
      {opened && (
        <SheetPanel key={JSON.stringify([opened.act.act, opened.act.places])} label="What this will do" onClose={closeAct}>
          <ActBody first={opened.act} />
        </SheetPanel>
      )}
      {many && (
        <SheetPanel key={JSON.stringify([many.act, many.places, many.filter])} label="What this will do to many" onClose={closeMany}>
          <ManySheet first={many} />
        </SheetPanel>
      )}
    </>
  );
}

/** Stands once on every page of the workplace. */
export default function ActSheetHost() {
  return (
    <QueryClientProvider client={queries}>
      <Host />
    </QueryClientProvider>
  );
}
