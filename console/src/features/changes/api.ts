import { call } from "../../lib/http/client";

export interface Detail {
  kind: string;
  text: string;
  breaks?: boolean;
  before?: string;
  after?: string;
}
export interface Change {
  kind: string;
  path: string;
  symbol_kind: string;
  breaks?: boolean;
  was?: string;
  certain?: boolean;
  why?: string;
  before?: string;
  after?: string;
  details?: Detail[];
}
export interface PageChange {
  kind: string;
  path: string;
  title: string;
  was?: string;
  why?: string;
  gone?: string[];
  come?: string[];
}
export interface PageWords {
  page: string;
  was: string;
  sections: {
    kind: string;
    anchor: string;
    title: string;
    passages: { sign: "same" | "gone" | "come"; text: string }[];
  }[];
  more: boolean;
}
export interface Comparison {
  project: string;
  old: string;
  new: string;
  changes: Change[];
  level: string;
  suggested: string;
  hides_break: boolean;
  counts: Record<string, number>;
  pages: PageChange[];
}
export interface Place {
  kind: string;
  path: string;
  file: string;
  line: number;
  text: string;
  target: string;
  via?: string;
  owner?: string;
}
export interface Impact {
  project: string;
  asked: string;
  targets: number;
  places: number;
  projects: number;
  owners: string[];
  referring: { project: string; version: string; owner: string; places: Place[] }[];
  more: boolean;
}

const project = (slug: string) => `/projects/${encodeURIComponent(slug)}`;
export const compare = (slug: string, old: string, newer: string) =>
  call<Comparison>(
    `${project(slug)}/compare?${new URLSearchParams({ ...(old && { old }), ...(newer && { new: newer }) })}`,
  );
export const comparePage = (slug: string, page: string, old: string, newer: string) =>
  call<PageWords>(
    `${project(slug)}/compare/page?${new URLSearchParams({ page, old, new: newer })}`,
  );
export const getImpact = (slug: string, query: string) =>
  call<Impact>(`${project(slug)}/impact?${query}`);

/** Kinds of changes in the order of reading, with their headings. */
export const PAGE_TITLES: [string, string][] = [
  ["removed", "Pages gone"],
  ["moved", "Pages moved"],
  ["text", "Pages that say something else"],
  ["places", "Pages with other places"],
  ["added", "New pages"],
];
export const TITLES: [string, string][] = [
  ["removed", "Removed"],
  ["moved", "Moved"],
  ["signature", "Changed"],
  ["deprecated", "Deprecated"],
  ["added", "New"],
  ["text", "Says something else"],
];
