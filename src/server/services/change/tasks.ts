/** The tasks that are done aside where they reach far (`access/aside.ts`), by name. */

import { letInHere, lookAtLettingInHere } from "../asked/lettingIn.ts";
import { bringTableHere, lookAtTableHere } from "../bringing/bringing.ts";
import { readCrawlHere } from "../crawl/found.ts";
import { readForecastHere } from "../forecast/forecast.ts";
import { readGridHere } from "../grid/grid.ts";
import { applyDocumentHere, planDocumentHere } from "../house/exchange.ts";
import { idleLinesHere, readIdleHere } from "../idle/idle.ts";
import {
  endInvitationHere,
  endUnusedOneHere,
  enterInvitationHere,
  lookAtEndHere,
  lookAtInvitationHere,
  moveEndHere,
} from "../inviting/inviting.ts";
import { enterJobHere, lookAtManyHere } from "../jobs/jobs.ts";
import { erasePersonHere } from "../leaving/erasePerson.ts";
import { leaveHere, lookAtLeavingHere } from "../leaving/leaving.ts";
import { lookAtActHere } from "../life/sheet.ts";
import { compareViewpointsHere, compareWhyHere } from "../outside/compare.ts";
import { planGuestsHere } from "../outside/guestPlans.ts";
import { readGuestsHere } from "../outside/guests.ts";
import { readGuestHere } from "../outside/guestWays.ts";
import { outsideLinesHere } from "../outside/publicPages.ts";
import { lookAtPassHere, makePassHere } from "../passes/passes.ts";
import { readPledgeHere, readPledgesHere, tryPledgeHere } from "../pledges/pledges.ts";
import { pledgesNowHere } from "../pledges/turns.ts";
import { publishDraftHere, publishSeenHere } from "../publication/publishing.ts";
import { lookAtDraftPublicationHere, lookAtPublicationHere } from "../publication/sheet.ts";
import { readRegisterHere, registerLinesHere } from "../registers/registers.ts";
import { readSlipThenHere } from "../slip/slip.ts";
import { readWhoHere } from "../slip/who.ts";
import { readWhyHere } from "../slip/why.ts";
import { lookAtSpaceHere, startSpaceHere } from "../spaces/startSpace.ts";
import { applyHere } from "./apply.ts";
import { previewHere } from "./preview.ts";
import { proposeHere } from "./proposals.ts";
import { previewTakeBackHere, takeBackHere } from "./takeBack.ts";

export const TASKS: Record<string, (...args: never[]) => Promise<unknown>> = {
  applyHere,
  applyDocumentHere,
  bringTableHere,
  compareViewpointsHere,
  compareWhyHere,
  endInvitationHere,
  endUnusedOneHere,
  enterInvitationHere,
  enterJobHere,
  erasePersonHere,
  idleLinesHere,
  leaveHere,
  letInHere,
  lookAtActHere,
  lookAtDraftPublicationHere,
  lookAtEndHere,
  lookAtInvitationHere,
  lookAtLeavingHere,
  lookAtLettingInHere,
  lookAtManyHere,
  lookAtPassHere,
  lookAtPublicationHere,
  lookAtSpaceHere,
  lookAtTableHere,
  makePassHere,
  moveEndHere,
  outsideLinesHere,
  planDocumentHere,
  planGuestsHere,
  pledgesNowHere,
  previewHere,
  previewTakeBackHere,
  proposeHere,
  publishDraftHere,
  publishSeenHere,
  readCrawlHere,
  readForecastHere,
  readGridHere,
  readGuestHere,
  readGuestsHere,
  readIdleHere,
  readPledgeHere,
  readPledgesHere,
  readRegisterHere,
  readSlipThenHere,
  readWhoHere,
  readWhyHere,
  registerLinesHere,
  startSpaceHere,
  takeBackHere,
  tryPledgeHere,
};
