import { searchSubjects as contract } from "../../../../contracts/programs.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { searchSubjects } from "../../../../server/services/programs/authzen.ts";

export const POST = serve(contract, ({ body }) => searchSubjects(body));
