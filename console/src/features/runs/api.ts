import { call } from "../../lib/http/client";
import type { Page, Run } from "../../lib/types";

export interface Line {
  at: string;
  level: string;
  text: string;
}

export const listRuns = () => call<Page<Run>>("/runs?limit=100");
export const getRun = (id: string) => call<Run>(`/runs/${id}`);

/** Follow a run; ends by itself with the run. Returns how to stop listening. */
export function watchRun(id: string, onrun: (run: Run) => void, online: (line: Line) => void) {
  const source = new EventSource(`/api/v1/runs/${id}/events`);
  source.addEventListener("run", (event) => {
    const run = JSON.parse(event.data) as Run;
    onrun(run);
    if (run.state === "done" || run.state === "failed") source.close();
  });
  source.addEventListener("log", (event) => online(JSON.parse(event.data) as Line));
  return () => source.close();
}
