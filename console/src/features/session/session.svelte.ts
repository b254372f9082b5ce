import { call, useCsrf } from "../../lib/http/client";

interface SessionView {
  user: string;
  is_staff: boolean;
  csrf: string;
  portal: string;
}

class SessionState {
  user = $state("");
  portal = $state("");

  #take(view: SessionView) {
    useCsrf(view.csrf);
    this.user = view.user;
    this.portal = view.portal;
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
    await this.load();
  }
}

export const session = new SessionState();
