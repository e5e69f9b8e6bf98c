// Writes foliant/core/motifs/motifs.json from the fill set of @phosphor-icons/core (MIT): the icons named here,
// each a single outline that holds together. `npm run motifs`; tests/core/test_motifs.py proves them whole.

import { readFileSync, writeFileSync, copyFileSync } from "node:fs";
import { icons } from "@phosphor-icons/core";

const CHOSEN = `
  acorn airplane airplane-tilt alien asterisk atom avocado axe baby backpack balloon barn baseball
  baseball-cap beanie beer-bottle beer-stein bell binoculars bird boat bomb bone book book-open bookmark
  bookmark-simple boot bowling-ball boxing-glove brandy bread bridge building cactus cake camera car
  car-simple carrot castle-turret cat certificate chat-circle checkerboard cheese chef-hat cherries church
  city cloud cloud-lightning cloud-moon cloud-sun clover club coat-hanger compass compass-rose cookie
  cowboy-hat cross crown crown-simple diamond dice-five door drop drop-simple ear egg engine envelope eye
  eyeglasses eyes factory fan film-reel fire flag flag-banner flag-pennant flame flashlight flask flower
  flower-lotus flower-tulip football game-controller garage gear gear-six ghost gift globe globe-simple guitar
  hammer hand hand-heart hand-palm handbag headphones heart heart-break heart-straight hexagon hoodie horse
  hourglass house house-line house-simple ice-cream infinity jar jeep key keyhole lamp lamp-pendant leaf
  lifebuoy lighthouse lightning lock-simple magnet magnet-straight map-pin map-pin-simple martini mask-happy
  mask-sad medal-military megaphone moon moped motorcycle music-note music-notes notebook nut octagon onigiri
  orange paint-brush paint-brush-broad paint-roller palette paper-plane-tilt parachute pen-nib pencil
  pencil-simple pentagon pepper phone piano-keys ping-pong pint-glass pinwheel pipe-wrench pizza planet plant
  plug poker-chip popcorn popsicle potted-plant rabbit racquet radio rainbow robot ruler scales screwdriver
  scroll seal shield shield-chevron shield-star signpost skull smiley smiley-wink sneaker snowflake
  soccer-ball sock spade sphere spiral star star-four steering-wheel storefront sunglasses sword t-shirt tag
  tag-chevron tag-simple tent test-tube thumbs-up ticket tipi tooth traffic-cone train tree-evergreen
  tree-palm trophy truck umbrella van vinyl-record volleyball watch waves windmill wine wrench
`.trim().split(/\s+/);

const source = (name) =>
  readFileSync(new URL(`node_modules/@phosphor-icons/core/assets/fill/${name}-fill.svg`, import.meta.url), "utf8");

const known = new Map(icons.map((icon) => [icon.name, icon]));
const motifs = CHOSEN.filter((name) => known.has(name)).map((name) => ({
  key: name,
  words: [...new Set(known.get(name).tags.filter((tag) => !tag.startsWith("*")).map((tag) => tag.toLowerCase()))],
  d: [...source(name).matchAll(/<path d="([^"]*)"/g)].map((match) => match[1]).join(""),
}));
const lines = motifs.sort((a, b) => a.key.localeCompare(b.key)).map((motif) => JSON.stringify(motif));
const folder = new URL("../foliant/core/motifs/", import.meta.url);
writeFileSync(new URL("motifs.json", folder), `[\n${lines.join(",\n")}\n]\n`);
copyFileSync(new URL("node_modules/@phosphor-icons/core/LICENSE", import.meta.url), new URL("LICENSE", folder));
console.log(`${motifs.length} motifs`);
