import type { ListedTable } from "./api";

/** A folder, a database or a schema, with what lies in it. */
export interface Branch {
  name: string;
  branches: Branch[];
  tables: ListedTable[];
  /** Of tables, with those of branches. */
  count: number;
}
/** Under which tables stand that have no file. */
export const NO_FILE = "in the database only";
export type Order = "database" | "file";

const wayOf = (table: ListedTable, order: Order) =>
  order === "database" ? table.place : table.file ? table.file.split("/") : [NO_FILE];

/** The tables as a tree: by database and schema, or by the files that make them. */
export function treeOf(tables: ListedTable[], order: Order): Branch {
  const root: Branch = { name: "", branches: [], tables: [], count: 0 };
  for (const table of tables) {
    let at = root;
    at.count += 1;
    for (const name of wayOf(table, order)) {
      let next = at.branches.find((branch) => branch.name === name);
      if (!next) at.branches.push((next = { name, branches: [], tables: [], count: 0 }));
      next.count += 1;
      at = next;
    }
    at.tables.push(table);
  }
  return inOrder(root);
}

/** Numbers in names by their value. */
function inOrder(branch: Branch): Branch {
  branch.branches.sort((a, b) => a.name.localeCompare(b.name, "en", { numeric: true }));
  branch.branches.forEach(inOrder);
  return branch;
}

export interface Reference {
  from: number;
  to: number;
  by: string;
}
export interface DrawnTable extends ListedTable {
  lines: string[];
}

/** The tables that refer to others or are referred to, with the columns of their keys as lines, and who refers to
 * whom. */
export function referring(tables: ListedTable[]): {
  tables: DrawnTable[];
  references: Reference[];
} {
  const known = Object.fromEntries(tables.map((table) => [table.path, table]));
  const pairs = tables.flatMap((table) =>
    (table.keys ?? []).flatMap((key) => {
      const target = key.target ? known[key.target] : undefined;
      return target ? [{ from: table, to: target, key }] : [];
    }),
  );
  const paths = new Set(pairs.flatMap(({ from, to }) => [from.path, to.path]));
  const drawn = tables.filter((table) => paths.has(table.path));
  const places = Object.fromEntries(drawn.map((table, n) => [table.path, n]));
  return {
    tables: drawn.map((table) => ({ ...table, lines: linesOf(table) })),
    references: pairs.map(({ from, to, key }) => ({
      from: places[from.path] ?? 0,
      to: places[to.path] ?? 0,
      by: key.columns.join(", "),
    })),
  };
}

function linesOf(table: ListedTable): string[] {
  const keys = table.keys ?? [];
  const primary = keys.filter((key) => !key.target).flatMap((key) => key.columns);
  const foreign = keys.filter((key) => key.target).flatMap((key) => key.columns);
  return [...new Set([...primary, ...foreign])].map((name) =>
    primary.includes(name) ? `${name} (key)` : name,
  );
}
