import { call } from "../../lib/http/client";

export interface Hit {
  project: string;
  version: string;
  kind: string;
  path: string;
  name: string;
  summary: string;
  is_deprecated: boolean;
  href: string;
}

export function search(query: string, limit: number): Promise<Hit[]> {
  return call<Hit[]>(`/search?${new URLSearchParams({ q: query, limit: String(limit) })}`);
}
