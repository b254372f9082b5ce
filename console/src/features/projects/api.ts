import { call, callAll } from "../../lib/http/client";
import type { Navigation } from "../../lib/types";

export interface Release {
  version: string;
  is_preview: boolean;
  commit: string;
  published_at: string | null;
  aliases: string[];
  symbols: number;
  pages: number;
  support: string;
  is_judged: boolean;
  held_for: string;
}
export interface Project {
  slug: string;
  title: string;
  summary: string;
  owner: string;
  purl: string;
  latest: string;
  releases: Release[];
  visibility: "public" | "inside" | "teams";
}
export interface Addresses {
  asks: boolean;
  quiet: string[];
  known: number;
  unreachable: { url: string; why: string; since: string }[];
  checked_at: string | null;
}
export interface HealthPoint {
  run: number;
  at: string;
  total: number;
  dangling: number;
  stale: number;
}

/** Addresses by host, the host with the most first, each with the oldest of its troubles. */
export function byHost(unreachable: Addresses["unreachable"]) {
  const hosts = new Map<string, Addresses["unreachable"]>();
  for (const address of unreachable) {
    const host = address.url.split("/")[2] ?? address.url;
    hosts.set(host, [...(hosts.get(host) ?? []), address]);
  }
  return [...hosts]
    .map(([host, found]) => ({
      host,
      count: found.length,
      first: found.reduce((a, b) => (a.since <= b.since ? a : b)),
    }))
    .sort((a, b) => b.count - a.count || a.host.localeCompare(b.host));
}

export const listProjects = () => callAll<Project>("/projects?limit=500");

export async function getProject(slug: string) {
  const project = await call<Project>(`/projects/${slug}`);
  const health = await call<HealthPoint[]>(`/projects/${slug}/health`);
  const version = project.latest || project.releases[0]?.version;
  const navigation = version
    ? await call<Navigation>(`/projects/${slug}/releases/${encodeURIComponent(version)}/contents`)
    : null;
  const addresses = await call<Addresses>(`/projects/${slug}/addresses`);
  return { project, health, navigation, addresses };
}
