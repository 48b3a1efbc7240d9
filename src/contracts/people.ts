/** Finding people and groups. */
import { declare, json } from "./declare.ts";
import "reflect-metadata";
import { IsOptional, IsString, MaxLength } from "class-validator";

export class PeopleQuery {
  @IsOptional() @IsString() @MaxLength(100) q?: string;
}

/** Groups and people of a name, whom rules and columns can name: the first few. */
export interface FoundPeople {
  groups: { id: string; name: string; people: number }[];
  people: { id: string; name: string; kind: "member" | "guest"; groups: string[] }[];
}

export const findPeople = declare({
  method: "GET",
  path: "/api/people",
  who: "member",
  says: "The first few groups and people whose name fits.",
  query: PeopleQuery,
  answer: json<FoundPeople>("FoundPeople"),
});
