import { call } from "../../lib/http/client";

export interface Dashboard {
  name: string;
  references: number;
  dangling: number;
  stale: number;
  new_dangling: number;
  projects: number;
  published: {
    run: number;
    project: string;
    version: string;
    at: string;
    counts: Record<string, number>;
  }[];
  by_owner: { owner: string; dangling: number; stale: number; text: number; projects: string[] }[];
  running: {
    id: number;
    project: string;
    version: string;
    stage: string;
    done: number;
    total: number;
  }[];
  trend: { day: string; dangling: number }[];
}

export const getDashboard = () => call<Dashboard>("/dashboard");
