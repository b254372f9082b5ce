import { call } from "../../lib/http/client";
import type { Page } from "../../lib/types";

export type Visibility = "public" | "inside" | "teams";
export type Role = "reader" | "maintainer" | "owner";
export interface Member {
  user: string;
  team: string;
  role: Role;
  since: string;
  is_everywhere: boolean;
}
export interface Token {
  id: number;
  name: string;
  project: string;
  scope: string;
  maker: string;
  created_at: string;
  expires_at: string | null;
  last_used_at: string | null;
  text: string;
}
export interface SignIn {
  id: number;
  created_at: string;
  seen_at: string;
  address: string;
  agent: string;
  is_this: boolean;
}
export interface AuditEntry {
  id: number;
  at: string;
  actor: string;
  token: string;
  address: string;
  action: string;
  project: string;
  subject: string;
  before: unknown;
  after: unknown;
}

export const FOR_WHOM: Record<Visibility, string> = {
  public: "all who reach the portal",
  inside: "who is signed in",
  teams: "its members",
};
export const MAY: Record<Role, string> = {
  reader: "reads it",
  maintainer: "publishes, waives and says what is supported",
  owner: "decides on members, policy, tokens and visibility as well",
};

const write = (path: string, method: string, body?: unknown) =>
  call(path, { method, body: body === undefined ? undefined : JSON.stringify(body) });

export async function getMembers(slug: string) {
  const { visibility } = await call<{ visibility: Visibility }>(`/projects/${slug}/visibility`);
  const members = await call<Member[]>(`/projects/${slug}/members`);
  return { visibility, members };
}
export const setVisibility = (slug: string, visibility: Visibility) =>
  write(`/projects/${slug}/visibility`, "PUT", { visibility });
export const setMember = (slug: string, kind: "user" | "team", name: string, role: Role) =>
  write(`/projects/${slug}/members`, "PUT", { [kind]: name, role });
export const removeMember = (slug: string, member: Member) =>
  write(
    `/projects/${slug}/members?user=${encodeURIComponent(member.user)}&team=${encodeURIComponent(member.team)}`,
    "DELETE",
  );

export interface Mail {
  address: string;
  is_paused: boolean;
  subscriptions: { id: number; project: string; owner: string }[];
}

export async function getAccount() {
  const tokens = await call<Token[]>("/tokens");
  const sessions = await call<SignIn[]>("/sessions");
  const mail = await call<Mail>("/mail");
  return { tokens, sessions, mail };
}
export const pauseMail = (is_paused: boolean) => write("/mail", "PUT", { is_paused });
export const follow = (kind: "project" | "owner", name: string) =>
  write("/mail", "POST", { [kind]: name });
export const unfollow = (id: number) => write(`/mail/subscriptions/${id}`, "DELETE");
export const unsubscribe = (key: string) => write(`/mail/unsubscribe/${key}`, "POST");
export const makeToken = (name: string, project: string, scope: string, days: number | null) =>
  write("/tokens", "POST", { name, project, scope, days }) as Promise<Token>;
export const rotateToken = (id: number) =>
  write(`/tokens/${id}/rotation`, "POST", {}) as Promise<Token>;
export const revokeToken = (id: number) => write(`/tokens/${id}`, "DELETE");
export const endSession = (id: number) => write(`/sessions/${id}`, "DELETE");

export const listAudit = (query: string) =>
  call<Page<AuditEntry>>(`/audit?limit=100${query ? `&${query}` : ""}`);

/** Days for moments, and the beginning of what nobody reads to its end. */
function shortened(text: string) {
  if (/^\d{4}-\d\d-\d\dT/.test(text)) return new Date(text).toLocaleDateString();
  return /^[0-9a-f]{32,}$/.test(text) ? `${text.slice(0, 12)} …` : text;
}

/** What changed, as words: a value, or its parts. */
export function inWords(value: unknown): string {
  if (value === null || value === undefined || value === "") return "";
  if (Array.isArray(value)) return value.map(inWords).filter(Boolean).join(", ");
  if (typeof value !== "object") return shortened(String(value));
  return Object.entries(value)
    .map(([name, part]) => [name.replaceAll("_", " "), inWords(part)])
    .filter(([, part]) => part)
    .map(([name, part]) => `${name} ${part}`)
    .join(", ");
}
