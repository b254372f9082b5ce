import { call } from "../../lib/http/client";

export interface TrendDay {
  at: string;
  total: number;
  dangling: number;
  stale: number;
  open: number;
  new: number;
  fixed: number;
}
export interface Edge {
  source: string;
  target: string;
  version: string;
  total: number;
  dangling: number;
  stale: number;
}
export interface Ahead {
  id: number;
  project: string;
  ahead: { tags: string[]; commits: number | null; branch: string; since: string };
}

export const getTrend = (query: string) => call<TrendDay[]>(`/trend?days=90&${query}`);
export const getMap = () => call<Edge[]>("/map");
export const listAhead = () => call<Ahead[]>("/ahead");
