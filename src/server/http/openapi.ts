/** The OpenAPI description of the interfaces, made from what the endpoints declare of themselves: nothing of it is written twice. */
import type { ClassConstructor } from "class-transformer";
import { validationMetadatasToSchemas } from "class-validator-jsonschema";
import type { Declared } from "./endpoint.ts";

/** Exports of the file of an endpoint, by HTTP method. */
export type EndpointModule = Record<string, unknown>;

const METHODS = ["GET", "POST", "PUT", "PATCH", "DELETE"];

const POLICY_WORDS = {
  anybody: "Anybody may ask; the answer holds what they may know.",
  signedIn: "For whoever is signed in.",
  member: "For members who are signed in.",
};

type Schema = { properties?: Record<string, object>; required?: string[] };

/** "src/pages/access/v1/search/subject.ts" → "/access/v1/search/subject"; `[id]` becomes `{id}`. */
export const pathOfFile = (file: string): string =>
  `/${file
    .replace(/^.*?pages\//, "")
    .replace(/\.ts$/, "")
    .replace(/(^|\/)index$/, "")
    .replace(/\[(\w+)\]/g, "{$1}")}`;

function parametersOf(path: string, query: ClassConstructor<object> | undefined, schemas: Record<string, Schema>) {
  const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({ name, in: "path", required: true, schema: { type: "string" } }));
  const schema = query ? (schemas[query.name] ?? {}) : {};
  const inQuery = Object.entries(schema.properties ?? {}).map(([name, it]) => ({
    name,
    in: "query",
    required: schema.required?.includes(name) ?? false,
    schema: it,
  }));
  return [...inPath, ...inQuery];
}

function operationOf(path: string, declared: Declared, schemas: Record<string, Schema>) {
  const { access, body, query } = declared;
  const standard = "scope" in access;
  const refusal = {
    description: "Refused, or not as it should be: says what, where and what to do.",
    content: { "application/json": { schema: { $ref: "#/components/schemas/Refusal" } } },
  };
  return {
    tags: [standard ? "standards" : "application"],
    description: standard ? `Needs a token with the scope "${access.scope}", or a signed-in site keeper.` : POLICY_WORDS[access.policy],
    security: standard ? [{ token: [] }, { session: [] }] : access.policy === "anybody" ? [{}, { session: [] }] : [{ session: [] }],
    parameters: parametersOf(path, query, schemas),
    ...(body
      ? { requestBody: { required: true, content: { "application/json": { schema: { $ref: `#/components/schemas/${body.name}` } } } } }
      : {}),
    responses: {
      200: { description: "The answer.", content: { "application/json": { schema: {} } } },
      400: refusal,
      401: refusal,
      403: refusal,
      404: refusal,
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

/** Describes the endpoints of these files (by path of the file). */
export function describeInterfaces(modules: Record<string, EndpointModule>, server: string) {
  const schemas = validationMetadatasToSchemas() as Record<string, Schema>;
  const paths: Record<string, Record<string, object>> = {};
  for (const [file, module] of Object.entries(modules)) {
    const path = pathOfFile(file);
    for (const method of METHODS) {
      const declared = (module[method] as { declared?: Declared } | undefined)?.declared;
      if (declared) paths[path] = { ...paths[path], [method.toLowerCase()]: operationOf(path, declared, schemas) };
    }
  }
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
      schemas: { ...schemas, Refusal: REFUSAL },
      securitySchemes: {
        token: { type: "http", scheme: "bearer", description: "A token that a site keeper made; it is shown once." },
        session: { type: "apiKey", in: "cookie", name: "tesoro.session_token", description: "The session of somebody who signed in." },
      },
    },
  };
}
