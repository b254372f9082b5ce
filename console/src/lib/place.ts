/** What a fragment may mean: as it is written, and decoded (HTML, section 7.4.6.4). */
export function spellings(fragment: string): string[] {
  try {
    return [fragment, decodeURIComponent(fragment)];
  } catch {
    return [fragment]; // No encoding of anything.
  }
}

/** The element that a fragment leads to. */
export function placeOf(fragment: string): HTMLElement | null {
  for (const spelt of spellings(fragment)) {
    const found = document.getElementById(spelt);
    if (found) return found;
  }
  return null;
}
