import { call } from "../../lib/http/client";
import type { Finding, Page } from "../../lib/types";

export interface Report {
  project: string;
  version: string;
  run: number;
  previous: string;
  dry: boolean;
  counts: { total: number; held: number; dangling: number; stale: number; outside: number };
  new: Finding[];
  open: Finding[];
  fixed: Finding[];
  elsewhere: {
    project: string;
    version: string;
    owner: string;
    findings: Finding[];
    fixed: Finding[];
  }[];
  waived: { finding: Finding; reason: string; person: string; until: string; ended: boolean }[];
  examined: { releases: number; texts: number; mentions: number; judged: number };
  held_for: string;
}
export interface FindingRow {
  project: string;
  version: string;
  state: string;
  cause: string;
  branch: string;
  first_seen_at: string;
  waived: { reason: string; person: string; until: string } | null;
  finding: Finding;
}
export interface Patch {
  project: string;
  version: string;
  commit: string;
  state: "making" | "made";
  diff: string;
  made: number;
  left: string[];
}

export const getReport = (run: string) => call<Report>(`/runs/${run}/report`);
export interface FindingGroup {
  key: string;
  count: number;
  places: number;
  message: string;
}

export const listFindings = (query: string, limit = 500) =>
  call<Page<FindingRow>>(`/findings?limit=${limit}${query ? `&${query}` : ""}`);
export const listGroups = (by: string, query: string) =>
  call<FindingGroup[]>(`/findings/groups?by=${by}${query ? `&${query}` : ""}`);
/** What asks for the findings of a group only. */
export function listOfGroup(by: string, key: string, query: string): string {
  const asked = new URLSearchParams(query);
  asked.set(by, key || "-");
  return asked.toString();
}
/** A group as readers know it: a target without its project. */
export const nameOf = (by: string, key: string) =>
  (by === "target" && key.split("/").slice(1).join("/")) || key || "Nobody";
/** What all standing findings are of, each once, in order. by: project, rule or owner. */
export const listKeys = (by: string) =>
  call<FindingGroup[]>(`/findings/groups?by=${by}`).then((groups) =>
    distinct(groups.map((g) => g.key).filter(Boolean)),
  );

export const waive = (body: Record<string, unknown>) =>
  call<unknown[]>("/waivers", { method: "POST", body: JSON.stringify(body) });
/** Asks until the portal has made it: it fetches a commit for that. */
export async function getPatch(slug: string, query: string): Promise<Patch> {
  for (;;) {
    const patch = await call<Patch>(`/projects/${encodeURIComponent(slug)}/patch?${query}`);
    if (patch.state === "made") return patch;
    await new Promise((resolve) => setTimeout(resolve, 700));
  }
}

/** Where findings stand: a text may have one several times. */
export const placesOf = (findings: Finding[]) =>
  findings.reduce((sum, finding) => sum + (finding.places ?? 1), 0);

/** What counts: all but notes. */
export const counting = (findings: Finding[]) => findings.filter((f) => f.severity !== "note");

/** Rows in groups by what they are about, whose they are, or what is wrong; the largest first. */
export function grouped(rows: FindingRow[], by: string): [string, FindingRow[]][] {
  const groups = new Map<string, FindingRow[]>();
  for (const row of rows) {
    const f = row.finding;
    const key =
      by === "owner" ? f.owner || "Nobody" : by === "rule" ? f.rule : (f.target ?? f.rule);
    groups.set(key, [...(groups.get(key) ?? []), row]);
  }
  const weight = (list: FindingRow[]) =>
    Math.max(...list.map((r) => ["note", "warning", "error"].indexOf(r.finding.severity)));
  return [...groups].sort(
    (a, b) => b[1].length - a[1].length || weight(b[1]) - weight(a[1]) || a[0].localeCompare(b[0]),
  );
}

/** Findings in groups by what they are about, the largest first. */
export function byTarget(findings: Finding[]): { target: string; findings: Finding[] }[] {
  const groups = new Map<string, Finding[]>();
  for (const finding of findings) {
    const key = finding.target ?? finding.rule;
    groups.set(key, [...(groups.get(key) ?? []), finding]);
  }
  return [...groups]
    .map(([target, found]) => ({ target, findings: found }))
    .sort((a, b) => b.findings.length - a.findings.length || a.target.localeCompare(b.target));
}

/** Each value once, in order. */
export const distinct = (values: string[]) => [...new Set(values)].sort();
