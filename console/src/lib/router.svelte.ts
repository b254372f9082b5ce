import { forgetShown } from "./loader.svelte";

/** History routing: real addresses, modified clicks and foreign paths left alone. */
const FOREIGN = /^\/(api|static|health|metrics|feeds|oidc)(\/|$)/;

class Router {
  path = $state(location.pathname);
  query = $state(new URLSearchParams(location.search));
  hash = $state(location.hash.slice(1));

  constructor() {
    addEventListener("popstate", () => this.#read());
    document.addEventListener("click", (event) => this.#click(event));
  }

  go(address: string, { replace = false } = {}) {
    const before = this.path;
    history[replace ? "replaceState" : "pushState"](null, "", address);
    this.#read();
    if (before !== this.path) forgetShown();
    if (before !== this.path && !this.hash) scrollTo(0, 0);
  }

  #read() {
    this.path = location.pathname;
    this.query = new URLSearchParams(location.search);
    this.hash = location.hash.slice(1);
  }

  #click(event: MouseEvent) {
    if (event.defaultPrevented || event.button || event.metaKey || event.ctrlKey) return;
    if (event.shiftKey || event.altKey) return;
    const link = (event.target as Element).closest?.("a");
    const href = link?.getAttribute("href"); // Links in drawings have no text as their href.
    if (!link || !href || link.getAttribute("target") || link.hasAttribute("download")) return;
    const url = new URL(href, document.baseURI);
    if (url.origin !== location.origin || FOREIGN.test(url.pathname)) return;
    if (url.pathname === location.pathname && url.hash && url.search === location.search) return;
    event.preventDefault();
    this.go(url.pathname + url.search + url.hash);
  }
}

export const router = new Router();
