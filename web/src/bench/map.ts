// The map of the whole set: stages as boxes, what leads from one to the next as lines. dagre finds the places.
import { Graph, layout } from '@dagrejs/dagre';
import type { MapStage } from '../api/types.gen';

export interface Box {
  x: number; // of its middle
  y: number;
  stage: MapStage | null; // null: where a route begins or ends
  name: string;
}

export interface Wire {
  d: string;
  here: boolean; // the route being traced runs along it
  thin: boolean; // it leads back, or brings a signal that a stage needs besides its own
}

export interface Drawing {
  boxes: Box[];
  wires: Wire[];
  width: number;
  height: number;
}

export interface Size {
  across: boolean; // from left to right; otherwise from top to bottom
  width: number; // of a box
  height: number;
  gap: number; // between boxes one after the other
  beside: number; // between boxes side by side
}

export const small: Size = { across: true, width: 26, height: 14, gap: 12, beside: 8 };
const upright: Size = { across: false, width: 168, height: 30, gap: 20, beside: 18 };
const across: Size = { across: true, width: 116, height: 46, gap: 22, beside: 14 };

/** The least scale at which names can be read. */
const least = 0.6;

/** The drawing that is largest in a window of that size, and its scale. */
export function fitting(stages: MapStage[], width: number, height: number): { size: Size; scale: number } {
  const ways = [upright, across].map((size) => {
    const drawing = draw(stages, size);
    return { size, scale: Math.min(width / drawing.width, height / drawing.height, 1.5) };
  });
  const best = ways.reduce((a, b) => (b.scale > a.scale ? b : a));
  return { size: best.size, scale: Math.max(best.scale, least) };
}

/** Finds a place for every stage, and the lines between. */
export function draw(stages: MapStage[], size: Size): Drawing {
  const graph = new Graph({ multigraph: true });
  graph.setGraph({
    rankdir: size.across ? 'LR' : 'TB',
    ranksep: size.gap,
    nodesep: size.beside,
    edgesep: 6,
    marginx: 4,
    marginy: 4,
  });
  graph.setDefaultEdgeLabel(() => ({}));
  const inOrder = stages.filter((s) => !s.back);
  const starts = new Set(inOrder.map((s) => s.from));
  const ends = new Set(inOrder.map((s) => s.to));
  const needed = new Set(stages.flatMap((s) => s.needs));
  for (const stage of stages) graph.setNode(`s ${stage.name}`, { width: size.width, height: size.height });
  const end = { width: size.across ? 10 : size.width, height: size.across ? 10 : size.height * 0.7 };
  const terminals = new Map<string, string>(); // node of a route's beginning or end -> its point
  for (const point of new Set([...starts, ...ends])) {
    if (point === '' || needed.has(point) || (starts.has(point) && ends.has(point))) continue;
    graph.setNode(`p ${point}`, { ...end });
    terminals.set(`p ${point}`, point);
  }
  const here = new Map<string, { here: boolean; thin: boolean }>();
  const join = (from: string, to: string, onRoute: boolean, thin: boolean) => {
    const key = `${from}>${to}`;
    graph.setEdge(from, to, {}, key);
    here.set(key, { here: onRoute || (here.get(key)?.here ?? false), thin });
  };
  for (const a of stages) {
    if (terminals.has(`p ${a.from}`)) join(`p ${a.from}`, `s ${a.name}`, a.here, false);
    if (terminals.has(`p ${a.to}`)) join(`s ${a.name}`, `p ${a.to}`, a.here, false);
    for (const b of stages) {
      if (b.needs.includes(a.to)) join(`s ${a.name}`, `s ${b.name}`, false, true);
      if (a.to !== b.from) continue;
      const back = a.back || b.back;
      // Two stages that no route passes one after the other are not joined.
      if (!back && !a.routes.some((r) => b.routes.includes(r))) continue;
      join(`s ${a.name}`, `s ${b.name}`, a.here && b.here, back);
    }
  }
  layout(graph);
  const byName = new Map(stages.map((s) => [`s ${s.name}`, s]));
  const boxes = graph.nodes().map((id): Box => {
    const node = graph.node(id) as { x: number; y: number };
    return { x: node.x, y: node.y, stage: byName.get(id) ?? null, name: id.slice(2) };
  });
  const wires = graph.edges().map((e): Wire => {
    const { points } = graph.edge(e) as { points: { x: number; y: number }[] };
    const d = points.map((p, i) => `${i === 0 ? 'M' : 'L'}${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('');
    const known = here.get(e.name ?? '');
    return { d, here: known?.here ?? false, thin: known?.thin ?? false };
  });
  const { width = 0, height = 0 } = graph.graph() as { width?: number; height?: number };
  return { boxes, wires: wires.sort((a, b) => Number(a.here) - Number(b.here)), width, height };
}
