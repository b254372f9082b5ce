import { call } from "../../lib/http/client";
import type { Verdict } from "./types";

export interface ShownBy {
  title: string;
  path: string;
  href: string;
  project: string;
  version: string;
  verdict: Verdict;
}
export interface Element {
  path: string;
  name: string;
  kind: string;
  href: string;
  examples?: ShownBy[];
  left?: number;
}
export interface ModuleTested {
  path: string;
  href: string;
  shown: Element[];
  others: Element[];
  left: number;
}
export interface Tested {
  project: string;
  title: string;
  version: string;
  elements: number;
  shown: number;
  examples: Record<string, number>;
  modules: ModuleTested[];
}

export const placeOf = (slug: string, version: string) =>
  `/projects/${encodeURIComponent(slug)}/releases/${encodeURIComponent(version)}/tested`;

export const getTested = (slug: string, version: string) => call<Tested>(placeOf(slug, version));
