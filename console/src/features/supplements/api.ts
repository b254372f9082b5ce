import { call } from "../../lib/http/client";
import type { SymbolPage } from "../reference/api";

export interface Revision {
  id: number;
  name: string;
  text: string;
  author: string;
  reason: string;
  written_at: string;
}
export interface Written {
  items: Revision[];
  total: number;
  next: string | null;
  may_write: boolean;
}

const base = (slug: string) => `/projects/${encodeURIComponent(slug)}/written`;
export const listWritten = (slug: string) => call<Written>(`${base(slug)}?limit=500`);
export const listRevisions = (slug: string, name: string) =>
  call<Revision[]>(`${base(slug)}/${encodeURIComponent(name)}`);
export const write = (
  slug: string,
  name: string,
  body: { text: string; reason: string; after?: number },
) =>
  call<{ revision: Revision; run: number }>(`${base(slug)}/${encodeURIComponent(name)}`, {
    method: "PUT",
    body: JSON.stringify(body),
  });
export const remove = (slug: string, name: string, reason: string) =>
  write(slug, name, { text: "", reason });
export const previewOn = (slug: string, name: string, path: string, text: string) =>
  call<SymbolPage>(base(slug), { method: "POST", body: JSON.stringify({ text, path, name }) });
export const patchOf = (slug: string) => `/api/v1${base(slug)}.patch`;

/** The path of the first element that a text says it is for; empty where it says none, or a pattern. */
export function elementOf(text: string, slug: string): string {
  const found = /^\s*(?:for:\s*|-\s+)["']?(api:\/\/[^\s"']+)/m.exec(text)?.[1] ?? "";
  const start = `api://${slug}/`;
  return found.startsWith(start) && !found.includes("*")
    ? decodeURIComponent(found.slice(start.length))
    : "";
}

/** A name for a new file, from what it is for. */
export const nameFor = (path: string) =>
  `${
    path
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "")
      .slice(0, 100) || "words"
  }.md`;

export const startOf = (slug: string, path: string) =>
  `---\nfor: api://${slug}/${path}\n---\n\n# Remarks\n\n`;
