import { Problem } from "../../lib/http/client";
import type { Run } from "../../lib/types";
import { getRun, type Line, watchRun } from "./api";

export const STAGES = ["receive", "store", "link", "index", "live", "report"];

export class RunState {
  run = $state.raw<Run>();
  problem = $state.raw<Problem>();
  lines = $state.raw<Line[]>([]);

  /** Start following; returns how to stop. */
  follow(id: string) {
    this.run = this.problem = undefined;
    this.lines = [];
    let isFollowed = true;
    getRun(id).then(
      (run) => isFollowed && (this.run ??= run),
      (problem: Problem) => isFollowed && (this.problem = problem),
    );
    const stop = watchRun(
      id,
      (run) => (this.run = run),
      (line) => (this.lines = [...this.lines, line]),
    );
    return () => {
      isFollowed = false;
      stop();
    };
  }

  /** How a stage stands: done, now, failed or later. */
  standing(stage: string): "done" | "now" | "failed" | "later" {
    const run = this.run;
    if (!run || run.state === "queued") return "later";
    const at = STAGES.indexOf(run.stage);
    const mine = STAGES.indexOf(stage);
    if (run.state === "done" || mine < at) return "done";
    if (mine > at) return "later";
    return run.state === "failed" ? "failed" : "now";
  }
}
