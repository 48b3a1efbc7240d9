import { SubjectSearchBody } from "../../../../contracts/authzen.ts";
import { standard } from "../../../../server/http/standard.ts";
import { searchSubjects } from "../../../../server/services/authzen.ts";

export const POST = standard({ scope: "decisions", body: SubjectSearchBody, handle: ({ body }) => searchSubjects(body) });
