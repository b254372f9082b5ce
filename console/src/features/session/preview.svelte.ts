import { call } from "../../lib/http/client";
import { renew } from "../../lib/loader.svelte";

interface Shown {
  project: string;
  revision: number;
  version: string;
  run: number;
  errors: number;
  warnings: number;
  problem: string;
  seconds: number;
}

const PAUSE_MS = 1000;

/** What a preview of a working tree shows; pages are asked for again when it shows something else. */
class PreviewState {
  shown = $state.raw<Shown>();
  #follows = false;

  async follow() {
    if (this.#follows) return;
    this.#follows = true;
    for (;;) {
      const before = this.shown?.revision;
      try {
        const shown = await call<Shown>(
          before === undefined ? "/preview" : `/preview?after=${before}`,
          { isQuiet: true },
        );
        const isOther = before !== undefined && shown.revision !== before;
        this.shown = shown;
        if (isOther && !shown.problem) renew();
      } catch {
        await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
      }
    }
  }
}

export const preview = new PreviewState();
