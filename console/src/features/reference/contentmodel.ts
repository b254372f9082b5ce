import type { Particle } from "./interface";

interface Node {
  x: number;
  y: number;
  width: number;
  text: string;
  times: string;
  group: boolean;
  optional: boolean;
  many: boolean;
  href?: string;
}
interface Line {
  d: string;
  optional: boolean;
}
const ROW = 48;
const GAP = 34;
const LETTER = 8.1;
const SMALL = 5.8;
const GROUPS: Record<string, string> = {
  sequence: "in this order",
  choice: "one of",
  all: "in any order",
};

/** A drawing of what an element holds, from left to right, one row a leaf. */
export function layOut(content: Particle, name: string) {
  const nodes: Node[] = [];
  const lines: Line[] = [];
  let row = 0;
  let width = 0;

  const place = (particle: Particle, x: number): number => {
    const group = particle.kind in GROUPS;
    const text = group
      ? GROUPS[particle.kind]!
      : particle.kind === "any"
        ? "any element"
        : (particle.name ?? "");
    const wide = group ? text.length * 5.7 : text.length * LETTER + 20;
    const times = [particle.type, particle.times].filter(Boolean).join(", ");
    const right = x + wide;
    const middles = (particle.parts ?? []).map((part) => ({ part, y: place(part, right + GAP) }));
    const y = middles.length
      ? (middles[0]!.y + middles[middles.length - 1]!.y) / 2
      : 20 + ROW * row++;
    for (const child of middles) {
      const bend = right + GAP / 2;
      lines.push({
        d: `M${right + 4},${y} H${bend} V${child.y} H${right + GAP - 4}`,
        optional: Boolean(child.part.optional),
      });
    }
    nodes.push({
      x,
      y,
      width: wide,
      text,
      times,
      group,
      optional: Boolean(particle.optional),
      many: Boolean(particle.many) && !group,
      href: particle.href,
    });
    width = Math.max(width, right, x + times.length * SMALL);
    return y;
  };
  place({ kind: "element", name, parts: [content] }, 6);
  return { nodes, lines, width: width + 14, height: 20 + ROW * row, told: inWords(content) };
}

function inWords(particle: Particle): string {
  const times = particle.times ? ` (${particle.times})` : "";
  if (!(particle.kind in GROUPS)) return `${particle.name ?? "any element"}${times}`;
  return `${GROUPS[particle.kind]}${times}: ${(particle.parts ?? []).map(inWords).join(", ")}`;
}
