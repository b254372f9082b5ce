import type { Run } from "../../lib/types";
import { type Line, watchRun } from "./api";

export const STAGES = ["receive", "store", "link", "index", "live", "report"];

export class RunState {
  run = $state.raw<Run>();
  lines = $state.raw<Line[]>([]);

  /** Start following; returns how to stop. */
  follow(id: string) {
    this.run = undefined;
    this.lines = [];
    return watchRun(
      id,
      (run) => (this.run = run),
      (line) => (this.lines = [...this.lines, line]),
    );
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
