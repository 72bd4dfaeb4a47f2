import { Graph, layout } from "@dagrejs/dagre";
import type { StepNode } from "../../api/lineage";
import type { Size } from "../../primitives/view";
import type { Placed } from "../../primitives/walk";

/** A step on the plan: its box, its corner at the upper left. */
export interface Laid extends Placed, Size {
  node: StepNode;
}

export interface Line {
  from: string;
  to: string;
  path: string;
}

export interface Plan extends Size {
  steps: Laid[];
  lines: Line[];
}

export const PICTURE: Size = { width: 132, height: 142 };
const SWEEP: Size = { width: 148, height: 58 };
const APART = { nodesep: 14, ranksep: 40, marginx: 24, marginy: 24 };

/** Steps from left to right, each behind what it came from. */
export function planned(nodes: readonly StepNode[]): Plan {
  const graph = new Graph();
  graph.setGraph({ rankdir: "LR", ...APART });
  graph.setDefaultEdgeLabel(() => ({}));
  for (const node of nodes) graph.setNode(node.id, { ...(node.kind === "sweep" ? SWEEP : PICTURE) });
  for (const node of nodes) for (const parent of node.parents) graph.setEdge(parent, node.id);
  layout(graph);
  const steps = nodes.map((node): Laid => {
    const { x, y, width, height } = graph.node(node.id) as { x: number; y: number; width: number; height: number };
    return { id: node.id, node, parents: node.parents, x: x - width / 2, y: y - height / 2, width, height };
  });
  const lines = graph.edges().map(({ v, w }): Line => ({ from: v, to: w, path: curved((graph.edge(v, w) as { points: { x: number; y: number }[] }).points) }));
  const { width = 0, height = 0 } = graph.graph() as Partial<Size>;
  return { steps, lines, width, height };
}

/** A smooth line through points, level where it begins and ends. */
function curved(points: { x: number; y: number }[]): string {
  const [first, ...rest] = points;
  let path = `M${first!.x} ${first!.y}`;
  let before = first!;
  for (const point of rest) {
    const middle = (before.x + point.x) / 2;
    path += `C${middle} ${before.y} ${middle} ${point.y} ${point.x} ${point.y}`;
    before = point;
  }
  return path;
}
