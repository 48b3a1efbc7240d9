/** Where a program finds the AuthZEN endpoints of this site. */
import type { APIRoute } from "astro";

export const GET: APIRoute = ({ url }) => {
  const base = process.env.TESORO_ORIGIN ?? url.origin;
  const v1 = `${base}/access/v1`;
  return Response.json({
    policy_decision_point: base,
    access_evaluation_endpoint: `${v1}/evaluation`,
    access_evaluations_endpoint: `${v1}/evaluations`,
    search_subject_endpoint: `${v1}/search/subject`,
    search_action_endpoint: `${v1}/search/action`,
    search_resource_endpoint: `${v1}/search/resource`,
  });
};
