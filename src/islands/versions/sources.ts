/** Where versions come from: of a page, or of a private draft. */
import {
  listVersions,
  readVersion,
  type TakeUpBody,
  takeUpVersion,
  type VersionList,
  type VersionsQuery,
  type VersionText,
} from "../../contracts/versions.ts";
import { listDraftVersions, readDraftVersion, takeUpDraftVersion } from "../../contracts/workbench.ts";
import type { SavedVersion } from "../../contracts/writing.ts";
import { ask } from "../shared/api.ts";

export type Of = "page" | "draft";

interface Source {
  list(id: string, query: VersionsQuery): Promise<VersionList>;
  read(id: string, version: string): Promise<VersionText>;
  takeUp(id: string, version: string, body: TakeUpBody): Promise<SavedVersion>;
  /** Where one goes on writing. */
  write(id: string): string;
}

export const SOURCES: Readonly<Record<Of, Source>> = {
  page: {
    list: (id, query) => ask(listVersions, { params: { id }, query }),
    read: (id, version) => ask(readVersion, { params: { id, version } }),
    takeUp: (id, version, body) => ask(takeUpVersion, { params: { id, version }, body }),
    write: (id) => `/write/${id}`,
  },
  draft: {
    list: (id, query) => ask(listDraftVersions, { params: { id }, query }),
    read: (id, version) => ask(readDraftVersion, { params: { id, version } }),
    takeUp: (id, version, body) => ask(takeUpDraftVersion, { params: { id, version }, body }),
    write: (id) => `/workbench/${id}`,
  },
};
