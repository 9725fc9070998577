// Writes the icons that ship with the application into the core: the whole of the Lucide set (ISC licence), with its tags
// and the names that icons have had. Run when the set is to be renewed; the package that has the tags is fetched for it.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from './lib/setup.mjs';

const SET = 'lucide-static@1.62.0';

/** Further words to find some of them by. @type {Record<string, string>} */
const FURTHER = {
  house: 'home hut building',
  'house-plus': 'home hut',
  tent: 'camp',
  'tent-tree': 'camp',
  caravan: 'travel',
  hotel: 'bed sleep',
  bed: 'sleep night',
  'bed-double': 'sleep',
  'bed-single': 'sleep bunk',
  bath: 'wash water',
  'shower-head': 'wash water',
  toilet: 'wc',
  'door-open': 'enter open',
  'door-closed': 'shut closed',
  key: 'lock',
  lock: 'closed',
  'lock-open': 'open',
  mountain: 'peak fell',
  'mountain-snow': 'peak winter',
  'tree-pine': 'forest wood',
  'tree-deciduous': 'forest wood',
  trees: 'forest wood',
  leaf: 'plant green',
  flower: 'plant',
  'flower-2': 'plant',
  sprout: 'plant',
  clover: 'plant',
  feather: 'bird',
  bird: 'animal',
  rabbit: 'animal',
  squirrel: 'animal',
  fish: 'animal food',
  dog: 'animal',
  cat: 'animal',
  'paw-print': 'animal dog',
  bug: 'insect',
  turtle: 'animal',
  snail: 'animal slow',
  footprints: 'walk hike',
  map: 'way',
  'map-pin': 'place',
  'map-pinned': 'place',
  compass: 'north direction',
  route: 'way trail',
  signpost: 'way',
  milestone: 'way',
  navigation: 'direction',
  flag: 'goal',
  bike: 'ride',
  bus: 'travel',
  car: 'travel road',
  'train-front': 'travel',
  'cable-car': 'lift',
  ship: 'boat',
  sailboat: 'boat',
  anchor: 'boat harbour',
  plane: 'travel',
  luggage: 'bag',
  backpack: 'bag',
  'circle-parking': 'car',
  accessibility: 'wheelchair',
  baby: 'child family',
  sun: 'weather day',
  'sun-snow': 'weather',
  moon: 'night',
  cloud: 'weather',
  'cloud-sun': 'weather',
  'cloud-rain': 'weather',
  'cloud-snow': 'weather winter',
  'cloud-fog': 'mist',
  'cloud-lightning': 'storm',
  wind: 'weather',
  snowflake: 'winter cold',
  thermometer: 'warm cold',
  umbrella: 'rain',
  rainbow: 'weather',
  sunrise: 'morning',
  sunset: 'evening',
  droplet: 'water',
  droplets: 'water',
  waves: 'water lake',
  flame: 'fire stove',
  'flame-kindling': 'fire stove',
  utensils: 'food eat',
  'utensils-crossed': 'food',
  'cooking-pot': 'kitchen food',
  soup: 'food',
  coffee: 'drink',
  'cup-soda': 'drink',
  beer: 'drink',
  wine: 'drink',
  milk: 'drink',
  apple: 'food',
  carrot: 'food',
  wheat: 'food bread',
  croissant: 'food bread',
  sandwich: 'food',
  pizza: 'food',
  cake: 'food',
  cookie: 'food',
  egg: 'food',
  salad: 'food',
  'ice-cream-cone': 'food',
  user: 'person',
  users: 'people group',
  'user-round': 'person',
  'users-round': 'people',
  heart: 'love',
  'heart-pulse': 'health',
  'hand-heart': 'help',
  handshake: 'agree',
  smile: 'happy',
  'life-buoy': 'rescue help',
  siren: 'rescue alarm',
  'shield-check': 'safe',
  'triangle-alert': 'warning danger',
  'octagon-alert': 'warning stop',
  ban: 'forbidden no',
  'circle-check': 'yes good',
  'circle-x': 'no',
  info: 'help',
  'circle-question-mark': 'help question',
  bell: 'alarm',
  megaphone: 'news',
  lightbulb: 'idea light',
  calendar: 'date day',
  'calendar-days': 'date season',
  clock: 'time hours',
  hourglass: 'time',
  timer: 'time',
  'alarm-clock': 'time morning',
  history: 'past',
  phone: 'call',
  mail: 'letter',
  'message-circle': 'talk',
  globe: 'world web',
  link: 'chain',
  wifi: 'internet',
  plug: 'power',
  zap: 'power electric',
  battery: 'power',
  camera: 'picture',
  image: 'picture',
  images: 'pictures gallery',
  film: 'video',
  clapperboard: 'film video',
  play: 'video',
  music: 'sound',
  'volume-2': 'sound',
  mic: 'sound',
  headphones: 'sound',
  book: 'read',
  'book-open': 'read',
  library: 'read books',
  newspaper: 'news',
  pen: 'write',
  pencil: 'write',
  'notebook-pen': 'write journal',
  'graduation-cap': 'learn',
  school: 'learn',
  palette: 'art colour',
  brush: 'paint',
  scissors: 'cut',
  hammer: 'work build',
  wrench: 'work mend',
  drill: 'work',
  shovel: 'work dig',
  axe: 'wood work',
  pickaxe: 'work rock',
  'paint-roller': 'work',
  'toy-brick': 'play',
  construction: 'work closed',
  weight: 'heavy',
  ruler: 'length measure',
  scale: 'weigh',
  'arrow-up': 'up',
  'arrow-down': 'down',
  'arrow-right': 'on',
  'arrow-left': 'back',
  'trending-up': 'ascent',
  'chart-line': 'figures',
  star: 'favourite rating',
  award: 'prize',
  trophy: 'prize',
  medal: 'prize',
  gift: 'present',
  crown: 'king',
  gem: 'stone',
  ticket: 'entry',
  'shopping-bag': 'buy',
  store: 'shop',
  wallet: 'money',
  coins: 'money price',
  euro: 'money',
  banknote: 'money',
  receipt: 'money',
  recycle: 'green',
  trash: 'waste',
  'file-text': 'paper',
  folder: 'files',
  download: 'file',
  search: 'find',
  eye: 'see view',
  glasses: 'read see',
  binoculars: 'view look',
  telescope: 'view stars',
  stars: 'night',
  sparkles: 'new',
  circle: 'dot shape',
  square: 'shape',
  triangle: 'shape',
  hexagon: 'shape',
};

const folder = mkdtempSync(join(tmpdir(), 'plum-thread-icons-'));
/** @param {string} command @param {string[]} args */
const run = (command, args) => {
  if (spawnSync(command, args, { cwd: folder, stdio: ['ignore', 'ignore', 'inherit'] }).status !== 0)
    throw new Error(`${command} ${args.join(' ')} failed.`);
};
try {
  run('npm', ['pack', '--silent', SET]);
  run('sh', ['-c', 'tar xzf *.tgz package/tags.json package/icon-nodes.json']);
  const read = (/** @type {string} */ file) => JSON.parse(readFileSync(join(folder, 'package', file), 'utf8'));
  /** @type {Record<string, string[]>} */
  const tags = read('tags.json');
  /** @type {Record<string, [string, Record<string, string>][]>} */
  const nodes = read('icon-nodes.json');

  const kebab = (/** @type {string} */ name) =>
    name.replace(/([a-z])([A-Z0-9])|([0-9])([A-Z])|([A-Z])([A-Z][a-z])/g, '$1$3$5-$2$4$6').toLowerCase();
  /** Names that an icon has had, by the one it has. @type {Map<string, Set<string>>} */
  const aliases = new Map();
  const exported = readFileSync(join(root, 'node_modules', 'lucide', 'dist', 'esm', 'lucide.mjs'), 'utf8');
  for (const [, names, file] of exported.matchAll(/export \{([^}]*)\} from '\.\/icons\/([\w-]+)\.mjs'/g)) {
    const others = [...String(names).matchAll(/default as (\w+)/g)].map(([, name]) => kebab(String(name)));
    aliases.set(String(file), new Set(others.filter((name) => name !== file)));
  }
  const set = Object.keys(nodes)
    .sort()
    .map((name) => {
      const own = new Set(name.split('-'));
      const words = [
        FURTHER[name] ?? '',
        ...[...(aliases.get(name) ?? [])].map((one) => FURTHER[one] ?? ''),
        ...(tags[name] ?? []),
        ...(aliases.get(name) ?? []),
      ]
        .flatMap((one) => one.toLowerCase().split(/[^\p{L}\p{N}]+/u))
        .filter((word) => word && !own.has(word));
      const body = /** @type {[string, Record<string, string>][]} */ (nodes[name])
        .map(
          ([tag, attributes]) =>
            `<${tag} ${Object.entries(attributes)
              .map(([key, value]) => `${key}="${value}"`)
              .join(' ')}/>`,
        )
        .join('');
      return { name, words: [...new Set(words)].join(' '), body };
    });
  // What was called otherwise once goes on being drawn.
  const former = Object.fromEntries(
    [...aliases].flatMap(([name, others]) =>
      nodes[name] ? [...others].filter((one) => !nodes[one]).map((one) => [one, name]) : [],
    ),
  );
  for (const name of Object.keys(FURTHER))
    if (!nodes[name] && !former[name]) console.error(`There is no icon named ${name}.`);
  const at = (/** @type {string} */ file) => join(root, 'src', 'lib', 'core', 'base', 'icons', file);
  writeFileSync(at('set.json'), `[\n${set.map((icon) => JSON.stringify(icon)).join(',\n')}\n]\n`);
  writeFileSync(at('names.json'), `${JSON.stringify({ names: set.map(({ name }) => name).join(' '), former })}\n`);
  console.log(`${set.length} icons`);
} finally {
  rmSync(folder, { recursive: true, force: true });
}
