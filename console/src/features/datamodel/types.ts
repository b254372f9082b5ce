import type { Piece, SafeHtml } from "../../lib/types";

export interface Check {
  text: string;
  name?: string;
  columns?: string[];
  is_enforced?: boolean;
  verdict?: string;
  looked_at?: string;
  told?: string;
}
export interface TableKey {
  kind: string;
  columns: string[];
  name?: string;
  target?: Piece[];
  there?: string[];
}
export interface Way {
  project: string;
  path: string;
  href?: string;
  how?: string;
  state?: string;
}
export interface TableColumn {
  name: string;
  path: string;
  href: string;
  type?: string;
  must?: boolean | null;
  default?: string;
  computed?: string;
  keys?: string[];
  checks?: Check[];
  tags?: string[];
  summary?: SafeHtml;
  deprecated?: boolean;
  came_from?: Way[];
  unknown?: string;
  used_by?: number;
  from_catalog?: string[];
}
export interface TableFacts {
  form: string;
  dialect: string;
  place: string[];
  row?: SafeHtml;
  owner?: string;
  tags?: string[];
  meta?: Record<string, string>;
  columns?: TableColumn[];
  keys?: TableKey[];
  checks?: Check[];
  query?: { written: Piece[]; compiled?: Piece[]; file?: string; line?: number } | null;
  feeds?: { name: string; text?: string; href?: string; state?: string }[];
  came_from?: Way[];
  goes_to?: Way[];
  unknown?: string[];
  rows?: number | null;
  changed?: string;
  seen_at?: string;
  from_catalog?: string[];
}
export interface ColumnFacts {
  must?: boolean | null;
  default?: string;
  computed?: Piece[];
  keys?: TableKey[];
  checks?: Check[];
  tags?: string[];
  meta?: Record<string, string>;
  came_from?: Way[];
  goes_to?: Way[];
  unknown?: string;
  from_catalog?: string[];
}
/** What the page of a table, a column or a macro holds besides what all elements have. */
export interface DataView {
  table?: TableFacts | null;
  column?: ColumnFacts | null;
  body?: string;
}

/** A key in words. */
export const KEY_WORDS: Record<string, string> = {
  primary: "primary key",
  unique: "unique",
  foreign: "refers to",
  index: "index",
};
/** Whether a column must be there, in words; empty where nobody says so. */
export const mustWords = (must: boolean | null | undefined) =>
  must === true ? "must be there" : must === false ? "may be empty" : "";
/** A fact that only the database's catalogue told, in words. */
export const told = (fact: string) =>
  ({ nullable: "whether it may be empty", key: "keys" })[fact] ?? fact;
