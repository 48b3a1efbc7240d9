/** Builds the application, if its sources changed since it was built last. */
import { buildIfNeeded } from "../serving.ts";

buildIfNeeded();
