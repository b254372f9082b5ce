/** The element that a fragment means: as it is written, else decoded (HTML, section 7.4.6.4). */
export function placeOf(fragment: string): HTMLElement | null {
  const found = document.getElementById(fragment);
  if (found || !fragment.includes("%")) return found;
  try {
    return document.getElementById(decodeURIComponent(fragment));
  } catch {
    return null; // No encoding of anything.
  }
}
