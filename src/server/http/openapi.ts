/** The OpenAPI description of the interfaces, made from what the endpoints declare of themselves: nothing of it is written twice. */
import { validationMetadatasToSchemas } from "class-validator-jsonschema";
import { CONTRACTS } from "../../contracts/all.ts";
import answers from "../../contracts/answers.schema.json";
import type { AnyContract } from "../../contracts/declare.ts";

const WHO_WORDS = {
  anybody: "Anybody may ask; the answer holds what they may know.",
  signedIn: "For whoever is signed in.",
  member: "For members who are signed in.",
};

type Schema = { properties?: Record<string, object>; required?: string[] };

/** Names of answers as the description has them: apart from those of bodies, and without characters it does not take. */
const componentOf = (name: string): string =>
  `answer.${decodeURIComponent(name)
    .replace(/[^\w.-]+/g, "_")
    .replace(/_$/, "")}`;

/** A schema whose references lead to the components of the description. */
function rehung(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(rehung);
  if (typeof value !== "object" || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, it]) =>
      key === "$ref" && typeof it === "string"
        ? [key, `#/components/schemas/${componentOf(it.replace("#/definitions/", ""))}`]
        : [key, rehung(it)],
    ),
  );
}

function parametersOf({ path, query }: AnyContract, schemas: Record<string, Schema>) {
  const inPath = [...(path as string).matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: "path",
    required: true,
    schema: { type: "string" },
  }));
  const schema = query ? (schemas[query.name] ?? {}) : {};
  const inQuery = Object.entries(schema.properties ?? {}).map(([name, it]) => ({
    name,
    in: "query",
    required: schema.required?.includes(name) ?? false,
    schema: it,
  }));
  return [...inPath, ...inQuery];
}

function answerOf({ answer }: AnyContract) {
  if (answer.file) return Object.fromEntries(answer.file.map((type: string) => [type, { schema: { type: "string" } }]));
  const schema = answer.schema ? { $ref: `#/components/schemas/${componentOf(answer.schema)}` } : { type: "object", maxProperties: 0 };
  return { "application/json": { schema } };
}

function operationOf(contract: AnyContract, schemas: Record<string, Schema>) {
  const { who, body, says } = contract;
  const standard = typeof who === "object";
  const refusal = {
    description: "Refused, or not as it should be: says what, where and what to do.",
    content: { "application/json": { schema: { $ref: "#/components/schemas/Refusal" } } },
  };
  const forWhom = standard
    ? `Needs a token with the scope "${who.scope}", or a signed-in site keeper.`
    : WHO_WORDS[who as keyof typeof WHO_WORDS];
  return {
    tags: [standard ? "standards" : "application"],
    summary: says,
    description: forWhom,
    security: standard ? [{ token: [] }, { session: [] }] : who === "anybody" ? [{}, { session: [] }] : [{ session: [] }],
    parameters: parametersOf(contract, schemas),
    ...(body
      ? { requestBody: { required: true, content: { "application/json": { schema: { $ref: `#/components/schemas/${body.name}` } } } } }
      : {}),
    responses: {
      200: { description: "The answer.", content: answerOf(contract) },
      400: refusal,
      401: refusal,
      403: refusal,
      404: refusal,
      409: refusal,
    },
  };
}

const REFUSAL = {
  type: "object",
  properties: {
    error: {
      type: "object",
      properties: { code: { type: "string" }, message: { type: "string" }, details: {} },
      required: ["code", "message"],
    },
  },
  required: ["error"],
};

/** Describes every endpoint that is called for JSON or files. */
export function describeInterfaces(server: string) {
  const schemas = validationMetadatasToSchemas() as Record<string, Schema>;
  const paths: Record<string, Record<string, object>> = {};
  for (const contract of CONTRACTS) {
    if (!/^\/(api|access)\//.test(contract.path)) continue;
    paths[contract.path] = { ...paths[contract.path], [contract.method.toLowerCase()]: operationOf(contract, schemas) };
  }
  const answerSchemas = Object.fromEntries(Object.entries(answers).map(([name, schema]) => [componentOf(name), rehung(schema)]));
  return {
    openapi: "3.1.0",
    info: {
      title: "Tesoro",
      version: "1",
      description: "Decisions by the AuthZEN Authorization API 1.0, exports of access, and the endpoints of Tesoro's own views.",
    },
    servers: [{ url: server }],
    paths: Object.fromEntries(Object.entries(paths).sort(([a], [b]) => (a < b ? -1 : 1))),
    components: {
      schemas: { ...schemas, ...answerSchemas, Refusal: REFUSAL },
      securitySchemes: {
        token: { type: "http", scheme: "bearer", description: "A token that a site keeper made; it is shown once." },
        session: { type: "apiKey", in: "cookie", name: "tesoro.session_token", description: "The session of somebody who signed in." },
      },
    },
  };
}
