import ELK, { type ElkNode } from "elkjs/lib/elk-api.js";
import workerUrl from "elkjs/lib/elk-worker.min.js?url";

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}
export interface Drawing {
  width: number;
  height: number;
  boxes: Box[];
  /** One of each edge, as the path of a line. */
  lines: string[];
}

/** The one program that may run beside the page (Trusted Types, W3C): no address that anybody gives. */
const door = (
  window as { trustedTypes?: { createPolicy: (name: string, rules: object) => ScriptDoor } }
).trustedTypes?.createPolicy("zarbek-layout", { createScriptURL: () => workerUrl });
type ScriptDoor = { createScriptURL: (address: string) => URL };

const HEIGHT = 30;
/** Of each line of a box after its first. */
export const LINE = 18;
const LETTER = 8.2;
/** From so many boxes on, sooner is better than finer. */
const MANY = 300;

export interface Size {
  width: number;
  height: number;
}
/** How large a box is that holds lines of monospaced text. */
export const sizeOf = (lines: string[]): Size => ({
  width: Math.max(...lines.map((line) => line.length)) * LETTER + 24,
  height: HEIGHT + (lines.length - 1) * LINE,
});

/** Places boxes of these sizes, and lines between them, from left to right. Off the page's own thread: thousands
 * take seconds. */
export async function place(sizes: Size[], edges: [number, number][]): Promise<Drawing> {
  const elk = new ELK({ workerFactory: () => new Worker(door?.createScriptURL("") ?? workerUrl) });
  const graph: ElkNode = {
    id: "all",
    layoutOptions: {
      "elk.algorithm": "layered",
      "elk.direction": "RIGHT",
      "elk.layered.spacing.nodeNodeBetweenLayers": "64",
      "elk.spacing.nodeNode": "18",
      "elk.layered.thoroughness": sizes.length > MANY ? "1" : "7",
    },
    children: sizes.map((size, n) => ({ id: `${n}`, ...size })),
    edges: edges.map(([from, to], n) => ({
      id: `e${n}`,
      sources: [`${from}`],
      targets: [`${to}`],
    })),
  };
  try {
    const placed = await elk.layout(graph);
    return {
      width: placed.width ?? 0,
      height: placed.height ?? 0,
      boxes: (placed.children ?? []).map(({ x = 0, y = 0, width = 0, height = 0 }) => ({
        x,
        y,
        width,
        height,
      })),
      lines: (placed.edges ?? []).map((edge) => lineOf(edge.sections ?? [])),
    };
  } finally {
    elk.terminateWorker();
  }
}

type Point = { x: number; y: number };
type Section = { startPoint: Point; bendPoints?: Point[]; endPoint: Point };

function lineOf(sections: Section[]): string {
  return sections
    .map((s) => [s.startPoint, ...(s.bendPoints ?? []), s.endPoint])
    .map((points) => points.map((p, n) => `${n ? "L" : "M"} ${p.x} ${p.y}`).join(" "))
    .join(" ");
}
