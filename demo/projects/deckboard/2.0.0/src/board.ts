import { Alarm, byLevel, type AlarmHandler } from "./alarms";
import { Tile, type TileState } from "./tiles";

/** How a board behaves. */
export interface BoardOptions {
  /** Seconds between two refreshes. */
  interval: number;
  /** Dark colours, for the night. */
  night?: boolean;
}

/**
 * A board of tiles.
 *
 * ```ts
 * const board = new Board({ interval: 5 });
 * board.add(new TextTile("Next"));
 * ```
 *
 * What is done about an alarm is told in [rest hours](api://harbour-handbook/rest-times).
 */
export class Board {
  /** What the board starts with. */
  static readonly defaults: BoardOptions = { interval: 10 };

  private tiles: Tile[] = [];
  private alarms: Alarm[] = [];
  private handlers = new Set<AlarmHandler>();

  /** @param options - what differs from {@link Board.defaults} */
  constructor(readonly options: Partial<BoardOptions> = {}) {}

  /**
   * Hangs a tile on the board.
   *
   * @param item - what to hang
   * @returns how many there are now
   */
  add(tile: Tile): number {
    return this.tiles.push(tile);
  }

  /**
   * Raises an alarm.
   *
   * @param alarm - what is wrong
   */
  raise(alarm: Alarm): void {
    this.alarms = byLevel([...this.alarms, alarm]);
    for (const handler of this.handlers) handler(alarm);
  }

  /**
   * Calls a function with each new alarm.
   *
   * @param handler - what to call
   * @returns a function that ends it
   */
  onAlarm(handler: AlarmHandler): () => void {
    this.handlers.add(handler);
    return () => this.handlers.delete(handler);
  }

  /** All states anew, in the order of {@link Board.hang}. Alarms are in {@link Board.open}. */
  refresh(): TileState[] {
    return this.tiles.map((tile) => tile.render());
  }

  // The alarms that are open, worst first.
  get open(): Alarm[] {
    return this.alarms.filter((alarm) => alarm.open);
  }
}
