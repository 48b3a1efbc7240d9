/** What a token lets a program do. */
export const TOKEN_SCOPES = ["decisions", "exports"] as const;
export type TokenScope = (typeof TOKEN_SCOPES)[number];

export const SCOPE_NAMES: Record<TokenScope, string> = {
  decisions: "ask who may do what (AuthZEN)",
  exports: "fetch the access document and effective access",
};
