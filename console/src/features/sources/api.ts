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
  /** The line from which on the rest is to be asked for. */
  next: number | null;
}

export async function getSource(
  slug: string,
  rest: string,
  shown: (page: SourcePage) => void,
): Promise<SourcePage> {
  const [version, ...path] = rest.split("/");
  const base = `/projects/${encodeURIComponent(slug)}/releases/${encodeURIComponent(version ?? "latest")}`;
  const address = `${base}/files/${encodePath(path.join("/"))}`;
  let page = await call<SourcePage>(address);
  while (page.next) {
    shown(page);
    const more = await call<SourcePage>(`${address}?from=${page.next}`, { isQuiet: true });
    page = { ...page, rows: [...page.rows, ...more.rows], next: more.next };
  }
  return page;
}
