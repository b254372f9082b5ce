import { call } from "../../lib/http/client";
import type { Page, Placement } from "../../lib/types";

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
}
export interface HealthPoint {
  run: number;
  at: string;
  total: number;
  dangling: number;
  stale: number;
}

export const listProjects = () => call<Page<Project>>("/projects?limit=500").then((p) => p.items);

export async function getProject(slug: string) {
  const project = await call<Project>(`/projects/${slug}`);
  const health = await call<HealthPoint[]>(`/projects/${slug}/health`);
  const version = project.latest || project.releases[0]?.version;
  const place = version
    ? await call<Placement>(`/projects/${slug}/releases/${encodeURIComponent(version)}/contents`)
    : null;
  return { project, health, place };
}
