import { call, useCsrf } from "../../lib/http/client";
import { preview } from "./preview.svelte";

interface SessionView {
  user: string;
  is_staff: boolean;
  csrf: string;
  portal: string;
  provider: string;
  preview?: boolean;
}

class SessionState {
  user = $state("");
  portal = $state("");
  isStaff = $state(false);
  /** What the provider of identities is called; empty where nobody signs in there. */
  provider = $state("");
  /** Whether this is no portal but a working tree as one would show it. */
  isPreview = $state(false);

  #take(view: SessionView) {
    useCsrf(view.csrf);
    this.user = view.user;
    this.portal = view.portal;
    this.isStaff = view.is_staff;
    this.provider = view.provider;
    this.isPreview = view.preview ?? false;
    if (this.isPreview) preview.follow();
  }
  async load() {
    this.#take(await call<SessionView>("/session"));
  }
  async signIn(user: string, password: string) {
    const body = JSON.stringify({ user, password });
    this.#take(await call<SessionView>("/session", { method: "POST", body }));
  }
  async signOut() {
    await call("/session", { method: "DELETE" });
    location.assign("/"); // What is on the page may be for who was signed in only.
  }
}

export const session = new SessionState();
