/** What is here is for those who sign in: nothing of it is for an index. */
export function GET(): Response {
  return new Response("User-agent: *\nDisallow: /\n", { headers: { "content-type": "text/plain; charset=utf-8" } });
}
