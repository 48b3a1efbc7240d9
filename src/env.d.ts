/// <reference types="astro/client" />

declare namespace App {
  interface Locals {
    /** Who is signed in; null for the public. */
    me: { id: string; name: string; kind: "member" | "guest" } | null;
    /** The session they are signed in with, and until when it lasts at most. */
    session: import("./server/accounts/openSession.ts").OpenSession | null;
    /** Address of whoever calls, as the server process or a named proxy saw it. */
    client: string;
    siteName: string;
    /** Whether this site is the demo, whose sign-in page offers its cast. */
    demo: boolean;
    /** Whether search engines are welcome to list this very answer; whatever does not say so is not to be listed. */
    listed?: boolean;
    theme: "light" | "dark" | null;
    /** Time zone of the reader, where a cookie told it; else the server's is used. */
    zone: string | undefined;
  }
}

/** The library keeps there what classes declare of their fields; it has types for it elsewhere. */
declare module "class-transformer/cjs/storage.js" {
  export const defaultMetadataStorage: import("class-transformer/types/MetadataStorage").MetadataStorage;
}
