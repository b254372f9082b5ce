import { call, encodePath } from "../../lib/http/client";

export interface LineageNode {
  project: string;
  path: string;
  name: string;
  depth: number;
  version?: string;
  kind?: string;
  type?: string;
  summary?: string;
  owner?: string;
  tags?: string[];
  unknown?: string[];
  is_missing?: boolean;
}
export interface LineageEdge {
  source: number;
  target: number;
  how?: string;
}
export interface Lineage {
  project: string;
  version: string;
  path: string;
  nodes: LineageNode[];
  edges: LineageEdge[];
  more: boolean;
}

export const getLineage = (slug: string, version: string, path: string) =>
  call<Lineage>(
    `/projects/${encodeURIComponent(slug)}/releases/${encodeURIComponent(version)}/lineage/${encodePath(path)}`,
  );

export interface ListedKey {
  columns: string[];
  target?: string;
  there?: string[];
}
export interface ListedTable {
  path: string;
  name: string;
  href: string;
  kind: string;
  form: string;
  place: string[];
  file?: string;
  summary?: string;
  owner?: string;
  tags?: string[];
  columns?: number;
  keys?: ListedKey[];
}
export interface TableList {
  project: string;
  version: string;
  tables: ListedTable[];
}

export const getTables = (slug: string, version: string) =>
  call<TableList>(
    `/projects/${encodeURIComponent(slug)}/releases/${encodeURIComponent(version)}/tables`,
  );
