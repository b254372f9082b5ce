import { call, callNext, encodePath, Problem } from "../../lib/http/client";
import type { DataView } from "../datamodel/types";
import type { ExampleView, Exercised } from "../examples/types";
import type { Supplement, Words } from "../supplements/types";
import type { InterfaceView } from "./interface";
import type { Crumb, Finding, Piece, Navigation, SafeHtml } from "../../lib/types";

export interface Parameter {
  name: string;
  kind: string;
  type?: Piece[];
  default?: string;
}
export interface Signature {
  parameters: Parameter[];
  returns: Piece[];
  /** The declaration in its language's own form; none where parameters and returns tell it all. */
  text?: Piece[];
}
export interface Field {
  name?: Piece[];
  type?: Piece[];
  html?: SafeHtml;
  default?: string;
  has_default?: boolean;
  optional?: boolean;
}
export interface Member {
  path: string;
  name: string;
  kind: string;
  href: string;
  summary?: SafeHtml;
  deprecated?: boolean;
  origin?: string;
  flags?: string[];
  line?: number;
  is_new?: boolean;
}
export interface Detail {
  path: string;
  name: string;
  kind: string;
  href: string;
  flags?: string[];
  signatures?: Signature[];
  type?: Piece[];
  summary?: SafeHtml;
  body?: SafeHtml;
  parameters?: Field[];
  returns?: Field[];
  raises?: Field[];
  deprecated?: boolean;
}
export interface Details {
  items: Detail[];
  next: string | null;
}
export interface SymbolPage {
  navigation: Navigation;
  path: string;
  name: string;
  kind: string;
  language: string;
  parent: Crumb | null;
  flags: string[];
  decorators: string[];
  signatures: Signature[];
  bases: Piece[][];
  type: Piece[];
  value: string;
  summary: SafeHtml;
  body: SafeHtml;
  text_from: Crumb | null;
  parameters: Field[];
  returns: Field[];
  yields: Field[];
  raises: Field[];
  attributes: Field[];
  see: Field[];
  sections: { kind: string; title: string; html: SafeHtml }[];
  since: string;
  changes: { version: string; html: SafeHtml }[];
  deprecated: { since: string; html: SafeHtml } | null;
  members: Member[];
  /** How many more there are than are listed. */
  members_left: number;
  /** The first members in full, and the address of the others. */
  details: Detail[];
  details_next: string | null;
  inherited: Member[];
  subclasses: Crumb[];
  names: string[];
  referrers: { total: number; projects: string[] };
  findings: Finding[];
  file: string;
  line: number;
  end_line: number;
  source_url: string;
  /** The page of its file, at its line; empty where readers may not look into it. */
  source_page?: string;
  /** Whether the release before did not have it. */
  is_new?: boolean;
  permanent: string;
  /** What an interface description says of it. */
  interface?: InterfaceView | null;
  /** What a data model says of it. */
  data?: DataView | null;
  /** Of an example: itself, and what it calls. */
  example?: ExampleView | null;
  exercises?: Exercised[];
  /** Examples that call the element. */
  examples?: ExampleView[];
  /** Texts for it that stand elsewhere, all that is said with whose words they are, and languages of translations. */
  supplements?: Supplement[];
  words?: Words[];
  languages?: string[];
  /** Where a page of a tree documents it. */
  place?: { title: string; href: string; certainty: "declared" | "named" } | null;
}
export interface GuidePage {
  navigation: Navigation;
  path: string;
  title: string;
  html: SafeHtml;
  /** Of the chapter, and of each part; empty where nobody counts. */
  number: string;
  headings: { level: number; title: string; anchor: string; number?: string }[];
  previous: Crumb | null;
  following: Crumb | null;
  file: string;
  findings: Finding[];
  referrers: { total: number; projects: string[] };
  permanent: string;
  /** Of a page of a tree, as it was gathered; empty for a guide. */
  original: string;
  /** What of the reference such a page tells of; the anchor is empty for the page as a whole. */
  elements: { path: string; name: string; kind: string; href: string; anchor: string }[];
}
export interface Referrer {
  project: string;
  version: string;
  kind: string;
  path: string;
}

/** VERSION/PATH, or PATH alone, which follows the newest release. */
async function versioned<T>(
  slug: string,
  rest: string,
  what: "symbols" | "guides",
  query = "",
): Promise<T> {
  const [version, ...path] = rest.split("/");
  const base = `/projects/${encodeURIComponent(slug)}/releases`;
  const newest = () => call<T>(`${base}/latest/${what}/${encodePath(rest)}${query}`);
  if (!path.length) return newest();
  try {
    return await call<T>(
      `${base}/${encodeURIComponent(version!)}/${what}/${encodePath(path.join("/"))}${query}`,
    );
  } catch (error) {
    if (!(error instanceof Problem) || error.elsewhere || error.status !== 404) throw error;
    return newest().catch(() => {
      throw error;
    });
  }
}

export const getSymbol = (slug: string, rest: string, language = "") =>
  versioned<SymbolPage>(slug, rest, "symbols", language ? `?language=${language}` : "");
/** next: an address that the service gave. */
export const getDetails = (next: string) => callNext<Details>(next);
export const getGuide = (slug: string, rest: string) => versioned<GuidePage>(slug, rest, "guides");
export const listReferrers = (slug: string, path: string) =>
  call<Referrer[]>(`/projects/${encodeURIComponent(slug)}/referrers/${encodePath(path)}`);
