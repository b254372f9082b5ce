declare const safe: unique symbol;
/** HTML that the service has sanitised: a plain text is none. */
export type SafeHtml = string & { readonly [safe]: true };
export interface Finding {
  rule: string;
  severity: string;
  subject: string;
  subject_kind?: string;
  message: string;
  file?: string;
  line?: number;
  text?: string;
  before?: string;
  after?: string;
  target?: string;
  suggestion?: string;
  certain?: boolean;
  why?: string;
  fingerprint: string;
  owner?: string;
  was?: string;
  now?: string;
  /** How often its text has it; once where it is not said. */
  places?: number;
}
export interface Piece {
  text: string;
  href?: string;
  full?: string;
  state?: string;
  finding?: string;
}
export interface Crumb {
  path: string;
  name: string;
  href: string;
  kind?: string;
  depth?: number;
  current?: boolean;
  number?: string;
}
export interface Navigation {
  project: string;
  title: string;
  version: string;
  newest: string;
  versions: string[];
  modules: Crumb[];
  guides: Crumb[];
  more_modules: number;
  more_guides: number;
  /** Between which the reader has a choice. */
  editions?: { name: string; title: string; is_current: boolean }[];
}
export interface Run {
  id: number;
  project: string;
  version: string;
  state: string;
  stage: string;
  done: number;
  total: number;
  attempt: number;
  is_preview: boolean;
  is_dry: boolean;
  actor: string;
  problem: string;
  counts: Record<string, number>;
  created_at: string;
  finished_at: string | null;
}
export interface Page<T> {
  items: T[];
  total: number;
  next: string | null;
}
