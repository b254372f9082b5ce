import { callNext, Problem } from "./http/client";
import type { Page } from "./types";

/** What pages show now, and how it is asked for again. */
let shown: { loader: object; again: () => Promise<void> }[] = [];

/** What was shown stands for something that has changed. */
export function renew() {
  for (const { again } of shown) again();
}

/** Another page is shown: what the one before loaded is nobody's any more. */
export function forgetShown() {
  shown = [];
}

/** What one page loads: the newest answer wins, a late one is dropped. */
export class Loader<T> {
  data = $state.raw<T>();
  problem = $state.raw<Problem>();
  #key: string | undefined;

  async load(key: string, fetch: () => Promise<T>) {
    if (key === this.#key) return;
    this.#key = key;
    shown = [
      ...shown.filter(({ loader }) => loader !== this),
      { loader: this, again: () => this.again(fetch) },
    ];
    await this.again(fetch);
  }

  async again(fetch: () => Promise<T>) {
    const key = this.#key;
    try {
      const data = await fetch();
      if (key !== this.#key) return;
      this.data = data;
      this.problem = undefined;
    } catch (error) {
      if (key !== this.#key) return;
      this.problem = error instanceof Problem ? error : new Problem(0, { detail: String(error) });
      this.data = undefined;
    }
  }
}

/** A list that is too long to be shown at once: what came so far, and the rest when it is asked for. */
export class ListLoader<T> extends Loader<Page<T>> {
  async more() {
    const before = this.data;
    if (!before?.next) return;
    const address = before.next;
    await this.again(async () => {
      const chunk = await callNext<Page<T>>(address);
      return { ...chunk, items: [...before.items, ...chunk.items] };
    });
  }
}
