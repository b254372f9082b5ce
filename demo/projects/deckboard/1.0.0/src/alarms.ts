/** How bad it is. */
export enum Level {
  /** For the log. */
  Note = 0,
  /** Look soon. */
  Caution = 1,
  /** Act now; see {@link Alarm.acknowledge}. */
  Danger = 2,
}

/** Something that someone must see. */
export class Alarm {
  /** When it was acknowledged, if it was. */
  acknowledged?: Date;

  /**
   * Makes an alarm.
   *
   * @param level - how bad
   * @param text - for people
   * @param place - where aboard
   */
  constructor(
    readonly level: Level,
    readonly text: string,
    readonly place: string = "bridge",
  ) {}

  /**
   * Marks it as seen.
   *
   * @param by - who saw it
   * @returns this alarm
   * @throws {AlarmError} if it was seen before
   */
  acknowledge(by: string): this {
    if (this.acknowledged) throw new AlarmError(this, by);
    this.acknowledged = new Date();
    return this;
  }

  /** Whether anyone must still act. */
  get open(): boolean {
    return this.level === Level.Danger && !this.acknowledged;
  }
}

/** An alarm was acknowledged twice. */
export class AlarmError extends Error {
  constructor(
    readonly alarm: Alarm,
    readonly by: string,
  ) {
    super(`${by} came too late`);
  }
}

/** What {@link Board.onAlarm} calls. */
export type AlarmHandler = (alarm: Alarm) => void;

/** Alarms by how bad they are, worst first. */
export function byLevel(alarms: readonly Alarm[]): Alarm[] {
  return [...alarms].sort((a, b) => b.level - a.level);
}
