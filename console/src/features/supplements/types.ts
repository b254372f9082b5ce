import type { SafeHtml } from "../../lib/types";

/** A text for an element that stands elsewhere. */
export interface Supplement {
  project: string;
  version: string;
  path: string;
  href: string;
  file: string;
  target: string;
  /** Of a translation. */
  language?: string;
}
/** Something that is said of an element. by, hidden_by: places in the page's supplements, -1 for the source. */
export interface Words {
  kind: "summary" | "text" | "parameter" | "remarks" | "examples" | "see";
  html: SafeHtml;
  by: number;
  hidden_by?: number;
  name?: string;
  line?: number;
}
