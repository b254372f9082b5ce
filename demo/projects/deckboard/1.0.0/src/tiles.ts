import { knots, metres } from "./format";
import type { Alarm } from "~/alarms";

/** What a tile shows at the moment. */
export interface TileState {
  /** Title above it. */
  title: string;
  /** The words or figures. */
  body: string;
  /** An {@link Alarm} that stands on it. */
  alarm?: Alarm;
}

/** One field of a {@link Board}. */
export abstract class Tile {
  /** Counts the tiles that were ever made. */
  static made = 0;

  /** @param title - shown above */
  constructor(readonly title: string) {
    Tile.made += 1;
  }

  /**
   * What to show now.
   *
   * @returns a new state each time
   */
  abstract render(): TileState;

  /** Called when the tile is hung on a board. */
  protected attached(): void {}
}

/** A tile with words. */
export class TextTile extends Tile {
  #body = "";

  /** The words. */
  get body(): string {
    return this.#body;
  }
  set body(text: string) {
    this.#body = text;
  }

  render(): TileState {
    return { title: this.title, body: this.#body };
  }
}

/** What a gauge can show. */
export type Unit = "m" | "kn";

/** A tile with a figure; see {@link Unit}. */
export class GaugeTile extends Tile {
  /**
   * @param title - shown above
   * @param unit - what the value is in
   * @param value - where it starts
   */
  constructor(
    title: string,
    readonly unit: Unit,
    public value = 0,
  ) {
    super(title);
  }

  /** Sets the value. */
  set(value: number): void;
  /** Sets the value from what a sensor says. */
  set(value: string): void;
  set(value: number | string): void {
    this.value = Number(value);
  }

  render(): TileState {
    return { title: this.title, body: this.unit === "m" ? metres(this.value) : knots(this.value) };
  }
}
