import { Problem } from "../../lib/http/client";
import { makeCall, type Given, type Operation, type Snippet } from "./interface";

interface Field {
  name: string;
  place: string;
  value: string;
  required: boolean;
  secret: boolean;
  choices?: string[];
}
const KEEP = "zarbek-secret:";

/** What a reader has filled in for one operation, and what came back. Secrets are kept for this tab alone. */
export class TryState {
  server = $state("");
  fields = $state<Field[]>([]);
  body = $state("");
  busy = $state(false);
  problem = $state("");
  answer = $state.raw<Given | null>(null);
  snippets = $state.raw<Snippet[]>([]);
  mediaType = "";
  shownBody = $derived(pretty(this.answer?.body ?? ""));
  #operation: Operation;
  #where: [string, string, string];

  constructor(operation: Operation, path: string, slug: string, version: string) {
    this.#operation = operation;
    this.#where = [path, slug, version];
    this.server = operation.callable?.[0] ?? "";
    this.snippets = operation.snippets ?? [];
    const media = operation.body?.media?.[0];
    this.mediaType = media?.type ?? "";
    this.body = media?.examples[0]?.raw ?? "";
    this.fields = [
      ...secretsOf(operation),
      ...(operation.parameters ?? []).map((p) => ({
        name: p.name,
        place: p.place,
        value: p.value ?? "",
        required: Boolean(p.required),
        secret: false,
        choices: p.choices,
      })),
    ];
  }

  send = () => this.#call(true);
  refresh = () => this.#call(false);

  async #call(send: boolean) {
    const [operation, slug, version] = this.#where;
    const values: Record<string, Record<string, string>> = {};
    for (const field of this.fields) {
      if (field.secret) sessionStorage.setItem(KEEP + field.name, field.value);
      if (field.value) (values[field.place] ??= {})[field.name] = field.value;
    }
    this.busy = send;
    this.problem = "";
    try {
      const result = await makeCall(slug, version, {
        operation,
        server: this.server,
        values,
        body: this.#operation.body ? this.body : "",
        media_type: this.mediaType,
        send,
      });
      this.snippets = result.snippets;
      this.problem = result.problem;
      if (send) this.answer = result.answer;
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      this.problem = error.message;
      this.answer = null;
    } finally {
      this.busy = false;
    }
  }
}

/** A field for each secret that the operation's first way in asks for. */
function secretsOf(operation: Operation): Field[] {
  const known = new Set((operation.parameters ?? []).map((p) => p.name.toLowerCase()));
  return (operation.security?.[0] ?? [])
    .filter((need) => need.field && need.place && !known.has(need.field.toLowerCase()))
    .map((need) => ({
      name: need.field!,
      place: need.place!,
      value: sessionStorage.getItem(KEEP + need.field) ?? "",
      required: true,
      secret: true,
    }));
}

function pretty(body: string) {
  try {
    return JSON.stringify(JSON.parse(body), null, 2);
  } catch {
    return body;
  }
}
