/** The tasks that are done aside where they reach far (`access/aside.ts`), by name. */
import { applyDocumentHere, planDocumentHere } from "../house/exchange.ts";
import { enterJobHere, lookAtManyHere } from "../jobs/jobs.ts";
import { lookAtActHere } from "../life/sheet.ts";
import { applyHere } from "./apply.ts";
import { previewHere } from "./preview.ts";
import { proposeHere } from "./proposals.ts";
import { previewTakeBackHere, takeBackHere } from "./takeBack.ts";

export const TASKS: Record<string, (...args: never[]) => Promise<unknown>> = {
  applyHere,
  applyDocumentHere,
  enterJobHere,
  lookAtActHere,
  lookAtManyHere,
  planDocumentHere,
  previewHere,
  previewTakeBackHere,
  proposeHere,
  takeBackHere,
};
