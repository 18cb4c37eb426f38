// Small drawings of what is noticed, 56 by 40: the screen's frame is drawn by who shows them. Thin strokes
// are what is dark on light, `f` fills.

const bars = (at: number[], high: number) =>
  at.map((y) => `<path d="M8 ${y}h40v${high}h-40z" class="f soft"/>`).join('');
const house = (x: number, y: number, k: number) =>
  `<path d="M${x} ${y}l${9 * k} ${-8 * k}l${9 * k} ${8 * k}v${10 * k}h${-18 * k}z"/>`;
const scene = house(19, 20, 1);
const sound = (d: string) => `<path d="${d}" stroke-width="2"/>`;

export const drawings: Record<string, string> = {
  dark: '<path d="M8 6h40v28h-40z" class="night"/>',
  lit: '<path d="M10 9h36M10 14h36M10 19h36M10 24h36M10 29h36" class="soft"/>',
  'line flat': '<path d="M8 20h40" stroke-width="3"/>',
  'line upright': '<path d="M28 6v28" stroke-width="3"/>',
  rolling: '<path d="M8 22h40" stroke-width="4"/><path d="M19 18v-9h18v9M19 35l9-8l9 8M44 9v7m-2.5 -3l2.5 3l2.5 -3"/>',
  tearing: '<path d="M8 9l40 7M8 16l40 7M8 23l40 7M8 30l26 4"/>',
  several: house(11, 21, 0.6) + house(23, 21, 0.6) + house(35, 21, 0.6),
  folded: scene + '<path d="M8 30h40v4h-40z" class="f soft"/><path d="M8 30h40"/>',
  small: '<path d="M17 12h22v16h-22z"/>' + house(22, 21, 0.65),
  bowed: '<path d="M12 6q6 14 0 28M44 6q-6 14 0 28M12 6h32M12 34h32"/>',
  'one bar': scene + bars([16], 7),
  'two bars': scene + bars([10, 24], 5),
  snow: Array.from(
    { length: 64 },
    (_, i) => `<path d="M${9 + ((i * 29) % 38)} ${8 + ((i * i * 11 + i * 7) % 25)}h1.8"/>`,
  ).join(''),
  smear: scene + '<path d="M38 16h9M38 20h10M38 24h9M38 28h8" class="soft"/>',
  echoes: scene + '<path d="M25 20l9-8l9 8v10h-18z" class="soft"/>',
  'no colour': '<circle cx="28" cy="20" r="9"/><path d="M21 27l14-14"/>',
  'no red': '<text x="28" y="26">R</text><path d="M17 30l22-20"/>',
  'no green': '<text x="28" y="26">G</text><path d="M17 30l22-20"/>',
  'no blue': '<text x="28" y="26">B</text><path d="M17 30l22-20"/>',
  register: house(17, 19, 1) + '<path d="M21 22l9-8l9 8v10h-18z" class="soft"/>',
  bands: '<path d="M18 6v28M22 6v28M38 6v28" stroke-width="2.5"/><path d="M44 6h4v28h-4z" class="f soft"/>',
  blocks: '<path d="M12 10h8v7h-8zM22 19h9v7h-9zM34 12h9v8h-9z" class="f soft"/>' + scene,
  frozen: scene + '<path d="M44 9v8M40.5 11l7 4M47.5 11l-7 4"/>',
  second: '<path d="M12 34v-24h9v24h27" stroke-width="2"/>',
  'hum low': sound('M4 20q6 -14 12 0t12 0t12 0t12 0'),
  'hum high': sound('M4 20q3 -12 6 0t6 0t6 0t6 0t6 0t6 0t6 0t6 0'),
  buzz: sound('M4 26h6l2 -14l2 14h8l2 -14l2 14h8l2 -14l2 14h8l2 -14l2 14'),
  thumps: sound('M4 24h10l3 -14l5 18l3 -4h14l3 -14l5 18l3 -4'),
  hiss: sound(
    'M4 20l2 -5l2 9l2 -7l2 6l2 -9l2 8l2 -4l2 6l2 -9l2 7l2 -5l2 8l2 -9l2 5l2 -4l2 7l2 -8l2 6l2 -3l2 5l2 -8l2 6',
  ),
  'crackle control': sound('M20 30a11 11 0 1 1 16 0M28 20l5 -7M42 24l3 -6l2 9l3 -7'),
  crackle: sound('M4 22h7l2 -9l2 14l2 -5h12l1 -6l2 9l1 -3h8l2 -11l2 15l2 -4h5'),
  pops: sound('M4 24h16l2 -16l2 16h18l2 -12l2 12h8'),
  squeal: sound('M4 20q1.5 -18 3 0t3 0t3 0t3 0t3 0t3 0t3 0t3 0t3 0t3 0t3 0t3 0t3 0t3 0t3 0t3 0'),
  soft: sound('M4 20q4 -9 9 -3l3 3l4 0l3 3q5 6 9 -3q4 -9 9 -3l3 3h4'),
  loud: sound('M4 26l5 -14h9l6 16h9l6 -16h9l4 10'),
  pitch: sound('M8 8v24h6v-24zM14 8v24h6v-24zM26 8v24h6v-24zM32 8v24h6v-24zM38 8v24h6v-24zM20 32h6'),
  'no click': sound('M10 12h14v16h-14zM30 27l16 -10M30 27h-4M46 27h4M12 8l34 26'),
  click: sound('M10 12h14v16h-14zM30 27h16M30 27h-4M46 27h4M44 12l5 -5M47 15l6 -3'),
  'no lamp': sound('M28 12a9 9 0 1 1 -.1 0M20 34l16 -28'),
  blinks: sound('M16 14a6 6 0 1 1 -.1 0M34 14a6 6 0 1 1 -.1 0M25 8v-4M43 8v-4M50 20h4'),
  'comes and goes': sound('M6 30v-16h10v16h10v-16h10v16h10v-16h6'),
  protection: sound('M28 6l12 5v9q0 9 -12 14q-12 -5 -12 -14v-9zM28 14v8M28 26v2'),
  dim: sound('M28 13a8 8 0 1 1 -.1 0M28 6v-2M40 12l2 -2M16 12l-2 -2') + '<path d="M24 21h8" class="soft"/>',
};
