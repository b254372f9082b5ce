import { call } from "../../lib/http/client";
import type { Piece, SafeHtml } from "../../lib/types";

export interface TreeRow {
  depth: number;
  name?: string;
  label?: string;
  type: Piece[];
  required?: boolean;
  deprecated?: boolean;
  words?: string[];
  html?: SafeHtml;
  example?: string;
  anchor?: string;
  folds?: boolean;
}
export interface Example {
  name?: string;
  text?: string;
  html: SafeHtml;
  raw: string;
  made?: boolean;
  faults?: string[];
}
export interface Media {
  type: string;
  name?: string;
  rows: TreeRow[];
  examples: Example[];
}
export interface Slot {
  name: string;
  place: string;
  type: Piece[];
  required?: boolean;
  deprecated?: boolean;
  words?: string[];
  html?: SafeHtml;
  value?: string;
  choices?: string[];
  href?: string;
}
export interface Followup {
  name: string;
  html?: SafeHtml;
  target?: string;
  href?: string;
  values?: Record<string, string>;
}
export interface Answer {
  status: string;
  words?: string;
  html?: SafeHtml;
  headers?: Slot[];
  media?: Media[];
  followups?: Followup[];
  href?: string;
}
export interface Need {
  scheme: string;
  words: string;
  html?: SafeHtml;
  scopes?: string[];
  place?: string;
  field?: string;
}
export interface NamedLink {
  name: string;
  href: string;
  kind?: string;
  text?: string;
  html?: SafeHtml;
  deprecated?: boolean;
}
export interface Snippet {
  label: string;
  language: string;
  text: string;
}
export interface Operation {
  method: string;
  path: string;
  id?: string;
  tags?: string[];
  incoming?: boolean;
  parameters?: Slot[];
  body?: { html?: SafeHtml; required?: boolean; media?: Media[] } | null;
  answers?: Answer[];
  security?: Need[][] | null;
  servers?: string[];
  callable?: string[];
  callbacks?: NamedLink[];
  snippets?: Snippet[];
}
export interface OperationGroup {
  name: string;
  html?: SafeHtml;
  total?: number;
  operations?: NamedLink[];
}
export interface Service {
  standard: string;
  version?: string;
  terms?: string;
  contact?: Record<string, string>;
  licence?: Record<string, string>;
  servers?: NamedLink[];
  schemes?: Need[];
  headers?: Slot[];
  groups?: OperationGroup[];
  documents?: Record<string, string>;
}
export interface Particle {
  kind: string;
  name?: string;
  href?: string;
  type?: string;
  times?: string;
  optional?: boolean;
  many?: boolean;
  parts?: Particle[];
}
export interface InterfaceView {
  operation?: Operation | null;
  service?: Service | null;
  rows?: TreeRow[];
  examples?: Example[];
  content?: Particle | null;
  slot?: Slot | null;
  answer?: Answer | null;
  facets?: Record<string, string>;
  sides?: string;
  evidence?: string;
  source?: SafeHtml;
  used_by?: NamedLink[];
}
export interface Given {
  status: number;
  reason: string;
  headers: [string, string][];
  body: string;
  time_ms: number;
  truncated: boolean;
  described: boolean;
  fits: boolean | null;
  faults: string[];
}
export interface CallResult {
  method: string;
  url: string;
  snippets: Snippet[];
  answer: Given | null;
  problem: string;
}
export interface CallBody {
  operation: string;
  server: string;
  values: Record<string, Record<string, string>>;
  body: string;
  media_type: string;
  send: boolean;
}

const base = (slug: string, version: string) =>
  `/projects/${encodeURIComponent(slug)}/releases/${encodeURIComponent(version)}`;

export const makeCall = (slug: string, version: string, body: CallBody) =>
  call<CallResult>(`${base(slug, version)}/calls`, {
    method: "POST",
    body: JSON.stringify(body),
  });

export interface OperationRow {
  path: string;
  method: string;
  address: string;
  summary: string;
  html: SafeHtml;
  deprecated: boolean;
}
export const listOperations = (slug: string, version: string, api: string, tag: string) =>
  call<{ items: OperationRow[]; next: string | null }>(
    `${base(slug, version)}/operations?limit=500&api=${encodeURIComponent(api)}&tag=${encodeURIComponent(tag)}`,
  );
