/** Counts, times and names as people say them. */
const SMALL = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine"];

export const spell = (n: number) => SMALL[n] ?? n.toLocaleString("en");
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
export const figure = (n: number) => n.toLocaleString("en");
export const count = (n: number, one: string, many = `${one}s`) =>
  `${figure(n)} ${n === 1 ? one : many}`;
/** What a list of pages is called: those of trees of HTML are no guides. */
export const pagesOf = (pages: { path: string }[]) =>
  pages.every((page) => /\.x?html?$/i.test(page.path)) ? "Pages" : "Guides";
export const percent = (part: number, whole: number) =>
  whole ? `${(Math.floor((1000 * part) / whole) / 10).toLocaleString("en")} %` : "0 %";

const STEPS: [number, Intl.RelativeTimeFormatUnit][] = [
  [60, "second"],
  [60, "minute"],
  [24, "hour"],
  [30, "day"],
  [12, "month"],
  [1000, "year"],
];

/** Times that others wrote may be none; they are shown as they are written. */
const isTime = (text: string) => !Number.isNaN(Date.parse(text));

export function ago(time: string | null): string {
  if (!time || !isTime(time)) return time ?? "";
  let amount = (Date.now() - Date.parse(time)) / 1000;
  if (amount < 45) return "just now";
  for (const [size, unit] of STEPS) {
    if (amount < size)
      return new Intl.RelativeTimeFormat("en", { numeric: "auto" }).format(
        -Math.round(amount),
        unit,
      );
    amount /= size;
  }
  return "";
}

export const exactTime = (time: string | null) =>
  time && isTime(time)
    ? new Intl.DateTimeFormat("en-GB", { dateStyle: "long", timeStyle: "short" }).format(
        new Date(time),
      )
    : (time ?? "");

export const join = (names: string[]) =>
  names.length < 2 ? (names[0] ?? "") : `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;

/** Whether a text is in the clipboard now. */
export async function copyText(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text);
    return true;
  } catch {
    return false;
  }
}
