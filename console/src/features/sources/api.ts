import { call, encodePath } from "../../lib/http/client";
import type { Crumb, Finding, Navigation, SafeHtml } from "../../lib/types";

export interface SourcePart {
  line: number;
  lines: number;
  html: SafeHtml;
  is_words: boolean;
}
/** A piece of a file: the prose of its comments beside its code. */
export interface SourceRow {
  line: number;
  parts: SourcePart[];
  prose: SafeHtml;
  elements?: Crumb[];
  depth?: number;
  end_line?: number;
}
export interface SourcePage {
  navigation: Navigation;
  file: string;
  language: string;
  lines: number;
  rows: SourceRow[];
  findings: Finding[];
  permanent: string;
}

export function getSource(slug: string, rest: string) {
  const [version, ...path] = rest.split("/");
  const base = `/projects/${encodeURIComponent(slug)}/releases/${encodeURIComponent(version ?? "latest")}`;
  return call<SourcePage>(`${base}/files/${encodePath(path.join("/"))}`);
}
