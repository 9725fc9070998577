import { randomFrom } from '../src/lib/core/content/invent';

/**
 * The demo's pictures, drawn by rule: layered ridges under a sky, weather, huts, and portraits as simple figures. The
 * same name always gives the same picture.
 */

/** Random numbers from 0 up to 1 that follow from a name (its FNV-1a hash is the seed). */
function randomFor(name: string): () => number {
  let seed = 2166136261;
  for (const c of name) seed = Math.imul(seed ^ (c.codePointAt(0) ?? 0), 16777619);
  return randomFrom(seed);
}

const SKIES = [
  { top: '#8fb3c9', low: '#f3e3c8', ridge: [142, 165, 172], near: [38, 57, 47], light: '#fff3d6' },
  { top: '#3b4a6b', low: '#e8a87c', ridge: [122, 107, 128], near: [36, 32, 48], light: '#ffd9a8' },
  { top: '#b9c7cc', low: '#eef0ec', ridge: [168, 180, 182], near: [66, 80, 78], light: '#ffffff' },
  { top: '#5f93b5', low: '#dfeaf0', ridge: [150, 176, 190], near: [46, 74, 60], light: '#ffffff' },
  { top: '#20304a', low: '#64789b', ridge: [70, 86, 116], near: [16, 24, 38], light: '#f4f1d8' },
];

const mix = (a: number[], b: number[], t: number) =>
  `rgb(${a.map((v, i) => Math.round(v + ((b[i] as number) - v) * t)).join(',')})`;

function ridge(random: () => number, width: number, base: number, height: number, steps: number): string {
  const points: [number, number][] = [];
  let y = base - height * random();
  for (let i = 0; i <= steps; i++) {
    y += (random() - 0.5) * height * 0.55;
    y = Math.min(base + height * 0.25, Math.max(base - height, y));
    points.push([(i / steps) * width, y]);
  }
  return points.map(([x, py]) => `${x.toFixed(1)},${py.toFixed(1)}`).join(' ');
}

const hut = (x: number, y: number, s: number, lit: boolean) => `
<g transform="translate(${x} ${y}) scale(${s})">
<rect x="-58" y="-52" width="116" height="62" fill="#5a3b2a"/><rect x="-58" y="-8" width="116" height="18" fill="#7d7468"/>
<path d="M-74-48 L0-104 L74-48 Z" fill="#33241c"/><rect x="30" y="-102" width="14" height="34" fill="#4a413b"/>
<rect x="-10" y="-34" width="20" height="44" fill="#2b1d15"/>
<rect x="-44" y="-36" width="22" height="18" fill="${lit ? '#ffd27a' : '#c9d6dc'}"/><rect x="22" y="-36" width="22" height="18" fill="${lit ? '#ffd27a' : '#c9d6dc'}"/>
</g>`;

const tree = (x: number, y: number, s: number, fill: string) =>
  `<path d="M${x} ${y - 70 * s} l${18 * s} ${34 * s} h${-8 * s} l${16 * s} ${36 * s} h${-52 * s} l${16 * s} ${-36 * s} h${-8 * s} Z" fill="${fill}"/>`;

/** A landscape of 1920 by 1280, as SVG. `withHut` puts a hut in front; otherwise a trail winds up. */
export function landscape(name: string, withHut: boolean): string {
  const random = randomFor(name);
  const [w, h] = [1920, 1280];
  const sky = SKIES[Math.floor(random() * SKIES.length)] as (typeof SKIES)[number];
  const dark = sky.top === '#20304a';
  const sunX = 300 + random() * 1300;
  const layers: string[] = [];
  const count = 4 + Math.floor(random() * 2);
  for (let i = 0; i < count; i++) {
    const t = i / (count - 1);
    const base = h * (0.48 + t * 0.34);
    const line = ridge(random, w, base, 300 - t * 170, 14 + i * 6);
    layers.push(`<polygon points="0,${h} ${line} ${w},${h}" fill="${mix(sky.ridge, sky.near, t)}"/>`);
    if (i === 0)
      layers.push(
        `<polygon points="0,${h} ${ridge(randomFor(`${name} snow`), w, base + 190, 90, 30)} ${w},${h}" fill="${mix(sky.ridge, [255, 255, 255], 0.18)}" opacity="0.5"/>`,
      );
  }
  const ground = h * 0.86;
  const nearFill = mix(sky.near, [0, 0, 0], 0.15);
  const trees = Array.from({ length: 10 + Math.floor(random() * 14) }, () => {
    const x = random() * w;
    return Math.abs(x - w * 0.58) < 190 && withHut
      ? ''
      : tree(x, ground + 30 + random() * 120, 0.8 + random() * 1.3, nearFill);
  });
  const weather =
    random() < 0.3
      ? Array.from(
          { length: 90 },
          () =>
            `<circle cx="${(random() * w).toFixed(0)}" cy="${(random() * h).toFixed(0)}" r="${(1.5 + random() * 3).toFixed(1)}" fill="#fff" opacity="0.75"/>`,
        ).join('')
      : Array.from(
          { length: 3 },
          () =>
            `<ellipse cx="${(random() * w).toFixed(0)}" cy="${(120 + random() * 280).toFixed(0)}" rx="${(160 + random() * 240).toFixed(0)}" ry="${(16 + random() * 26).toFixed(0)}" fill="#fff" opacity="0.28"/>`,
        ).join('');
  const path = `<path d="M${w * 0.5} ${h} C ${w * 0.62} ${h * 0.92}, ${w * 0.4} ${h * 0.86}, ${w * 0.55} ${h * 0.78} S ${w * 0.5} ${h * 0.68}, ${w * 0.6} ${h * 0.6}" fill="none" stroke="#e9dcc0" stroke-width="16" stroke-linecap="round" opacity="0.8"/>`;
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${w} ${h}" width="${w}" height="${h}">
<defs><linearGradient id="s" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="${sky.top}"/><stop offset="0.7" stop-color="${sky.low}"/></linearGradient></defs>
<rect width="${w}" height="${h}" fill="url(#s)"/><circle cx="${sunX}" cy="${180 + random() * 160}" r="${dark ? 46 : 70}" fill="${sky.light}" opacity="0.9"/>
${layers.join('')}<path d="M0 ${ground} Q ${w * 0.3} ${ground - 60} ${w * 0.6} ${ground + 10} T ${w} ${ground - 20} V ${h} H 0 Z" fill="${mix(sky.near, [70, 90, 60], 0.25)}"/>
${withHut ? '' : path}${trees.join('')}${withHut ? hut(w * 0.58, ground + 40, 2.1 + random() * 0.7, dark || random() < 0.4) : ''}${weather}</svg>`;
}

const SKINS = ['#f1cfb0', '#d9a679', '#a8734c', '#7a4f33', '#e8bd95'];
const HAIRS = ['#2b1d15', '#6b4226', '#b8b2a8', '#8a3b1c', '#1c1c22'];
const COATS = ['#7a3b1d', '#26392f', '#2e4a78', '#7d5c00', '#5b2b4c'];

/** A portrait of 900 by 900, as SVG. */
export function portrait(name: string): string {
  const random = randomFor(name);
  const from = (list: string[]) => list[Math.floor(random() * list.length)] as string;
  const [skin, hair, coat, back] = [
    from(SKINS),
    from(HAIRS),
    from(COATS),
    from(['#dfe6e0', '#ece1cf', '#d8e1e8', '#e9dbd8']),
  ];
  const long = random() < 0.5;
  const hat = random() < 0.45;
  const beard = !long && random() < 0.5;
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 900 900" width="900" height="900"><rect width="900" height="900" fill="${back}"/>
<polygon points="0,900 0,640 180,470 330,610 520,430 720,600 900,500 900,900" fill="#000" opacity="0.08"/>
${long ? `<path d="M270 400 Q260 190 450 190 T630 400 L660 690 H240 Z" fill="${hair}"/>` : ''}
<path d="M170 900 Q190 660 450 650 T730 900 Z" fill="${coat}"/><path d="M370 560 h160 v120 q-80 70 -160 0 Z" fill="${skin}"/>
<ellipse cx="450" cy="410" rx="150" ry="185" fill="${skin}"/>
<path d="M300 380 Q300 205 450 205 T600 380 Q540 290 450 292 T300 380 Z" fill="${hair}"/>
${beard ? `<path d="M302 430 Q320 610 450 612 T598 430 Q560 520 450 515 T302 430 Z" fill="${hair}"/>` : ''}
${hat ? `<path d="M285 330 Q300 170 450 165 T615 330 Q450 270 285 330 Z" fill="${from(COATS)}"/><circle cx="450" cy="160" r="26" fill="#fff" opacity="0.85"/>` : ''}
<circle cx="395" cy="415" r="12" fill="#2b2129"/><circle cx="505" cy="415" r="12" fill="#2b2129"/>
<path d="M405 500 Q450 ${530 + random() * 20} 495 500" fill="none" stroke="#2b2129" stroke-width="9" stroke-linecap="round"/></svg>`;
}
