import { type Hit, search } from "./api";

const PAUSE_MS = 60;

/** Hits as one types; a late answer is dropped. */
export class SearchState {
  query = $state("");
  hits = $state.raw<Hit[]>([]);
  answered = $state("");
  active = $state(0);
  #timer = 0;

  type(text: string, limit = 8) {
    this.query = text;
    this.active = 0;
    clearTimeout(this.#timer);
    if (!text.trim()) {
      this.hits = [];
      this.answered = "";
      return;
    }
    this.#timer = setTimeout(() => this.#ask(text, limit), PAUSE_MS);
  }

  async #ask(text: string, limit: number) {
    const hits = await search(text, limit).catch(() => []);
    if (text !== this.query) return;
    this.hits = hits;
    this.answered = text;
  }

  move(step: number) {
    const size = this.hits.length;
    if (size) this.active = (this.active + step + size) % size;
  }
}
