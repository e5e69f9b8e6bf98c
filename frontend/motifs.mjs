// Writes foliant/core/motifs/motifs.json from the fill set of @phosphor-icons/core (MIT): the icons named here.
// `npm run motifs`; tests/core/test_shapes.py proves them solid.

import { readFileSync, writeFileSync, copyFileSync } from "node:fs";
import { icons } from "@phosphor-icons/core";

const CHOSEN = `
  acorn airplane airplane-in-flight airplane-tilt alien ambulance anchor anchor-simple archive asterisk atom avocado
  axe baby baby-carriage backpack bag-simple balloon bank barbell barn barricade baseball baseball-cap baseball-helmet
  basket basketball bathtub beach-ball beanie bed beer-bottle beer-stein bell bicycle binoculars biohazard bird
  bluetooth boat bomb bone book book-bookmark book-open book-open-text bookmark bookmark-simple boot bowl-food
  bowl-steam bowling-ball boxing-glove brandy bread bridge broom bug bug-beetle bug-droid building building-apartment
  building-office buildings bulldozer bus butterfly cable-car cactus cake calculator call-bell camera camera-plus
  campfire car car-battery car-profile car-simple cardholder carrot cash-register castle-turret cat certificate chair
  chalkboard chalkboard-simple chalkboard-teacher champagne charging-station chat-circle checkerboard cheers cheese
  chef-hat cherries church city clock cloud cloud-fog cloud-lightning cloud-moon cloud-rain cloud-snow cloud-sun
  clover club coat-hanger coffee coffee-bean compass compass-rose compass-tool computer-tower confetti cookie
  cooking-pot couch court-basketball cow cowboy-hat cricket cross crosshair crown crown-cross crown-simple cube desk
  desktop detective device-mobile device-tablet diamond dice-five dice-four dice-one dice-six dice-three dice-two disc
  disco-ball dog door dress drone drop drop-half drop-simple ear ear-slash egg egg-crack elevator engine envelope eye
  eyedropper eyeglasses eyes face-mask factory fan feather film-reel film-slate film-strip fire fire-extinguisher
  fire-simple first-aid first-aid-kit fish fish-simple flag flag-banner flag-checkered flag-pennant flame flashlight
  flask flower flower-lotus flower-tulip flying-saucer football football-helmet footprints fork-knife funnel
  game-controller garage gas-can gas-pump gauge gavel gear gear-six ghost gift globe globe-hemisphere-east
  globe-hemisphere-west globe-simple goggles golf graduation-cap grains guitar hair-dryer hamburger hammer hand
  hand-coins hand-fist hand-grabbing hand-heart hand-palm hand-peace hand-pointing hand-soap hand-waving handbag
  handbag-simple hands-clapping hands-praying handshake hard-hat head-circuit headphones headset heart heart-break
  heart-half heart-straight heartbeat hexagon high-heel hockey hoodie horse hospital hourglass hourglass-high
  hourglass-low hourglass-medium hourglass-simple house house-line house-simple hurricane ice-cream infinity island
  jar jar-label jeep key keyhole knife ladder ladder-simple lamp lamp-pendant laptop leaf lectern lego lego-smiley
  lifebuoy lightbulb lightbulb-filament lighthouse lightning link lock lock-key lock-open lock-simple lock-simple-open
  log magnet magnet-straight map-pin map-pin-line map-pin-simple map-trifold martini mask-happy mask-sad
  medal-military megaphone metronome microphone microphone-stage microscope moon moon-stars moped moped-front mosque
  motorcycle mountains mouse music-note music-note-simple music-notes music-notes-plus music-notes-simple
  navigation-arrow needle newspaper notebook nut octagon onigiri orange orange-slice oven package paint-brush
  paint-brush-broad paint-brush-household paint-roller palette pants paper-plane paper-plane-right paper-plane-tilt
  paperclip parachute park paw-print peace pen-nib pencil pencil-simple pentagon pepper person person-arms-spread
  person-simple person-simple-bike person-simple-circle person-simple-hike person-simple-run person-simple-ski
  person-simple-snowboard person-simple-swim person-simple-tai-chi person-simple-throw person-simple-walk phone
  piano-keys picnic-table piggy-bank ping-pong pint-glass pinwheel pipe pipe-wrench pizza planet plant play plug
  poker-chip popcorn popsicle potted-plant projector-screen push-pin push-pin-simple puzzle-piece quotes rabbit
  racquet radio rainbow ranking road-horizon robot rocket rocket-launch rug ruler sailboat scales scissors scooter
  screwdriver scroll seal shapes shield shield-check shield-checkered shield-chevron shield-plus shield-star
  shirt-folded shooting-star shopping-bag shopping-cart shower shrimp signpost skull smiley smiley-angry smiley-blank
  smiley-meh smiley-nervous smiley-sad smiley-sticker smiley-wink smiley-x-eyes sneaker sneaker-move snowflake
  soccer-ball sock solar-roof spade sparkle speedometer sphere spiral spray-bottle stack stairs star star-and-crescent
  star-four star-of-david steering-wheel steps stethoscope stool storefront strategy student subway suitcase
  suitcase-rolling suitcase-simple sun sun-dim sun-horizon sunglasses swatches swimming-pool sword synagogue syringe
  t-shirt table tag tag-chevron tag-simple target taxi tea-bag television tennis-ball tent test-tube thermometer
  thermometer-simple thumbs-down thumbs-up ticket tip-jar tipi toilet tooth tornado tote tractor traffic-cone
  traffic-sign traffic-signal train train-simple tram tray tree tree-evergreen tree-palm trolley trophy truck
  truck-trailer umbrella umbrella-simple user van vault vinyl-record virus visor volleyball wall wallet warehouse
  watch wave-sine waves wheelchair wind windmill wine wrench yarn yin-yang
`.trim().split(/\s+/);

// Pictograms for signs, with the words that they are looked for by there.
const SIGNS = {
  "arrow-fat-down": "way down", "arrow-fat-left": "way left", "arrow-fat-right": "way right", "arrow-fat-up": "way up straight",
  "baby-carriage": "changing room", bathtub: "bath washroom", bed: "sleeping room", bicycle: "cycles", bus: "stop",
  "camera-slash": "forbidden photographs", car: "parking", cigarette: "smoking", "cigarette-slash": "forbidden smoking",
  "coat-hanger": "cloakroom", coffee: "break room", dog: "dogs", door: "entrance exit", "door-open": "entrance exit way out",
  elevator: "lift", "escalator-down": "moving stairs", "escalator-up": "moving stairs", "fire-extinguisher": "fire",
  "first-aid": "help", "fork-knife": "canteen", "gender-female": "women ladies washroom toilet",
  "gender-male": "men gentlemen washroom toilet", "hand-palm": "stop forbidden", info: "desk", key: "locked", microphone: "studio",
  "person-simple-run": "emergency exit way out", "person-simple-walk": "way walk", phone: "call", "phone-slash": "forbidden calls",
  prohibit: "forbidden no", question: "help desk", recycle: "bin", shower: "washroom", "sign-in": "entrance way in",
  "sign-out": "exit way out", stairs: "steps way up", steps: "stairs", toilet: "washroom restroom", train: "platform", trash: "bin",
  warning: "danger", wheelchair: "ramp accessible", "wheelchair-motion": "ramp accessible way", "wifi-high": "network",
};
const chosen = [...new Set([...CHOSEN, ...Object.keys(SIGNS)])];
const words = (name) => [...known.get(name).tags.filter((tag) => !tag.startsWith("*")), ...(SIGNS[name] ? `${SIGNS[name]} pictogram` : "").split(" ")];

const source = (name) =>
  readFileSync(new URL(`node_modules/@phosphor-icons/core/assets/fill/${name}-fill.svg`, import.meta.url), "utf8");

const known = new Map(icons.map((icon) => [icon.name, icon]));
const motifs = chosen.filter((name) => known.has(name)).map((name) => ({
  key: name,
  words: [...new Set(words(name).filter(Boolean).map((word) => word.toLowerCase()))],
  d: [...source(name).matchAll(/<path d="([^"]*)"/g)].map((match) => match[1]).join(""),
}));
const lines = motifs.sort((a, b) => a.key.localeCompare(b.key)).map((motif) => JSON.stringify(motif));
const folder = new URL("../foliant/core/motifs/", import.meta.url);
writeFileSync(new URL("motifs.json", folder), `[\n${lines.join(",\n")}\n]\n`);
copyFileSync(new URL("node_modules/@phosphor-icons/core/LICENSE", import.meta.url), new URL("LICENSE", folder));
console.log(`${motifs.length} motifs`);
