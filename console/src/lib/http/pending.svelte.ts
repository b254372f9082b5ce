/** Whether an answer is waited for, and for longer than a reader would not notice. */
const NOTICED_MS = 400;

class Pending {
  slow = $state(false);
  #open = 0;
  #timer: ReturnType<typeof setTimeout> | undefined;

  async during<T>(answer: Promise<T>): Promise<T> {
    this.#open += 1;
    this.#timer ??= setTimeout(() => (this.slow = true), NOTICED_MS);
    try {
      return await answer;
    } finally {
      this.#open -= 1;
      if (!this.#open) {
        clearTimeout(this.#timer);
        this.#timer = undefined;
        this.slow = false;
      }
    }
  }
}

export const pending = new Pending();
