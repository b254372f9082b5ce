/**
 * Metres with one decimal.
 *
 * @param value - in metres
 * @returns such as `2.4 m`
 */
export function metres(value: number): string {
  return `${value.toFixed(1)} m`;
}

/** Knots without decimals. See {@link metres} for lengths. */
export function knots(value: number): string {
  return `${Math.round(value)} kn`;
}

/**
 * A time of day.
 *
 * @param at - when
 * @param seconds - whether to show seconds
 */
export const clock = (at: Date, seconds = false): string =>
  at.toISOString().slice(11, seconds ? 19 : 16);
