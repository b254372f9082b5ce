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
const SOON = {
  "elk.layered.thoroughness": "1",
  "elk.layered.cycleBreaking.strategy": "DEPTH_FIRST",
  "elk.layered.layering.strategy": "LONGEST_PATH",
  "elk.layered.crossingMinimization.greedySwitch.type": "OFF",
  "elk.layered.nodePlacement.strategy": "SIMPLE",
  "elk.edgeRouting": "POLYLINE",
};

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
 * take seconds. Rejects for what is thousands of steps deep, which the program beside the page gives up. */
export async function place(sizes: Size[], edges: [number, number][]): Promise<Drawing> {
  let giveUp: (error: Error) => void = () => {};
  const givenUp = new Promise<never>((_, reject) => (giveUp = reject));
  const elk = new ELK({
    workerFactory: () => {
      const worker = new Worker(door?.createScriptURL("") ?? workerUrl);
      worker.onerror = (event) => {
        event.preventDefault();
        giveUp(new Error(event.message));
      };
      return worker;
    },
  });
  const graph: ElkNode = {
    id: "all",
    layoutOptions: {
      "elk.algorithm": "layered",
      "elk.direction": "RIGHT",
      "elk.layered.spacing.nodeNodeBetweenLayers": "64",
      "elk.spacing.nodeNode": "18",
      ...(sizes.length > MANY ? SOON : {}),
    },
    children: sizes.map((size, n) => ({ id: `${n}`, ...size })),
    edges: edges.map(([from, to], n) => ({
      id: `e${n}`,
      sources: [`${from}`],
      targets: [`${to}`],
    })),
  };
  try {
    const placed = await Promise.race([elk.layout(graph), givenUp]);
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
