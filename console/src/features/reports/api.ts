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
  elsewhere: { project: string; version: string; owner: string; findings: Finding[] }[];
}
export interface FindingRow {
  project: string;
  version: string;
  state: string;
  cause: string;
  first_seen_at: string;
  finding: Finding;
}

export const getReport = (run: string) => call<Report>(`/runs/${run}/report`);
export const listFindings = (query: string) =>
  call<Page<FindingRow>>(`/findings?limit=500${query ? `&${query}` : ""}`);

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
