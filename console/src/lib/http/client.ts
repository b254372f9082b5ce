import type { Page } from "../types";
import { pending } from "./pending.svelte";

/** The one way to the service: JSON in and out, problems (RFC 9457) as errors. */
export class Problem extends Error {
  status: number;
  code: string;
  elsewhere: string;
  constructor(status: number, body: Record<string, unknown>) {
    super(String(body.detail ?? `The service answered ${status} without saying why.`));
    this.status = status;
    this.code = String(body.code ?? "unknown");
    this.elsewhere = String(body.elsewhere ?? "");
  }
}

let csrf = "";
export function useCsrf(token: string) {
  csrf = token;
}

/** options.isQuiet: nobody waits for the answer. */
export async function call<T>(
  path: string,
  { isQuiet = false, ...options }: RequestInit & { isQuiet?: boolean } = {},
): Promise<T> {
  const headers = new Headers(options.headers);
  if (options.method && options.method !== "GET") headers.set("X-CSRFToken", csrf);
  if (options.body) headers.set("Content-Type", "application/json");
  let response: Response;
  try {
    const asked = fetch(`/api/v1${path}`, { ...options, headers });
    response = await (isQuiet ? asked : pending.during(asked));
  } catch {
    throw new Problem(0, { detail: "The service does not answer. Try again in a moment." });
  }
  const body = read(await response.text());
  if (!response.ok) throw new Problem(response.status, body ?? {});
  return body as T;
}

/** What is no JSON comes from something between the reader and the service, and says nothing. */
function read(text: string) {
  try {
    return text ? JSON.parse(text) : null;
  } catch {
    return null;
  }
}

/** A path segment by segment, with its slashes kept. */
export const encodePath = (path: string) => path.split("/").map(encodeURIComponent).join("/");

/** What follows in a list, at the address that its last page names. */
export const callNext = <T>(address: string) => call<T>(address.replace(/^\/api\/v1/, ""));

/** The items of a list, page after page. */
export async function callAll<T>(path: string): Promise<T[]> {
  let page = await call<Page<T>>(path);
  const found = [...page.items];
  while (page.next) {
    page = await callNext<Page<T>>(page.next);
    found.push(...page.items);
  }
  return found;
}
