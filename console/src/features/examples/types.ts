import type { SafeHtml } from "../../lib/types";

export interface Verdict {
  path?: string;
  state?: "passed" | "failed" | "skipped" | "not-run";
  at?: string;
  seconds?: number | null;
  told?: string;
}
export interface ExamplePart {
  kind: "set-up" | "step" | "outcome";
  code: SafeHtml;
  how: string;
  result: SafeHtml;
  line: number;
}
export interface ExampleView {
  title: string;
  path: string;
  href: string;
  project: string;
  version: string;
  framework: string;
  language: string;
  summary: SafeHtml;
  parts: ExamplePart[];
  verdict: Verdict;
}
export interface Exercised {
  name: string;
  href: string;
}

/** Verdict to its words and to the class of its tag. */
export const VERDICTS: Record<string, [string, string]> = {
  passed: ["passed", "mended"],
  failed: ["failed", "dangling"],
  skipped: ["skipped", "stale"],
  "not-run": ["not run", ""],
};
