// Writes foliant/core/motifs/motifs.json: the icons named here, from the fill set of @phosphor-icons/core (MIT) and from
// @mdi/svg (Apache 2.0), and from what @iconify-json/game-icons (CC BY 3.0) and @iconify-json/fa6-solid (CC BY 4.0) hold;
// none of them a sign of a firm or of a program, nor found by the name of one.
// `npm run motifs`; tests/core/test_shapes.py proves them solid.

import { readFileSync, writeFileSync, copyFileSync } from "node:fs";
import { icons } from "@phosphor-icons/core";
import svgpath from "svgpath";

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
// What that set has not, from the other; with more words where it is also looked for by those.
const MORE = `
  accordion album amplifier axe-battle badminton baguette baseball-diamond basketball-hoop bat beaker bed-king bee
  bee-flower beehive-outline beekeeper billiards blender bolt boomerang bottle-soda bottle-wine bow-arrow bow-tie bowl bread-slice brush bugle
  candelabra candle candycane car-pickup carabiner cards-playing cards-club cards-heart cards-spade
  cart cassette chess-bishop chess-king chess-knight chess-pawn chess-queen chess-rook chili-hot chili-mild
  circular-saw coach-lamp coat-rack coffee-maker coffin compost corn cradle cross-celtic crystal-ball cup cupcake curling
  dharmachakra dice-d20 diving diving-flippers diving-scuba-mask dna dolphin donkey duck dump-truck egg-easter egg-fried
  elephant excavator eye-circle fan-auto fence ferris-wheel ferry fire-truck firework fishbowl flag-triangle flask-round-bottom
  floor-lamp flower-pollen flower-poppy food-apple food-croissant food-drumstick food-hot-dog food-steak food-turkey forest
  forklift fountain fountain-pen french-fries fruit-cherries fruit-citrus fruit-grapes fruit-pear fruit-pineapple
  fruit-watermelon glass-cocktail glass-flute glass-mug glass-tulip glass-wine go-kart golf-cart golf-tee grass
  grave-stone greenhouse grill guitar-acoustic guitar-electric guitar-pick gymnastics halloween hammer-screwdriver
  hammer-wrench hand-saw hanger hat-fedora hexagram hiking hockey-puck hockey-sticks home-silo horse-human horseshoe
  hot-tub human-female-dance ice-pop iron iron-board jellyfish jump-rope kangaroo karate kayaking keg kettle kettlebell khanda kite
  koala ladybug lamp-birdie lava-lamp leaf-maple leek lighthouse-on magic-staff mailbox menorah mirror mixed-martial-arts moon-full moon-new
  moon-first-quarter moon-last-quarter moon-waning-crescent moon-waxing-crescent mower muffin mushroom music-accidental-flat
  music-accidental-natural music-accidental-sharp music-clef-alto music-clef-bass music-clef-treble music-rest-quarter
  nail necklace noodles ocarina orbit ornament owl panda paragliding party-popper pasta paw peanut penguin piano pier
  pig pine-tree pitchfork pliers podium polo pot pot-mix pot-steam pretzel pumpkin rake razor-double-edge rice rivet
  rodent roller-skate rollerblade rowing rugby safe sack sausage saw-blade saxophone screw-flat-top screw-round-top seed shaker
  shark shark-fin sheep ship-wheel shoe-ballet shoe-cleat shoe-formal shovel sickle sign-pole silo silverware silverware-fork
  silverware-spoon skate skateboard ski ski-water skull-crossbones sledding sleeping snail snake snowboard snowman
  snowmobile soy-sauce spa spear spider spider-web spirit-level sprinkler sprout stadium stocking stove strategy-off sunglasses-variant
  sword-cross swim table-chair taco tangram tape-measure tea teddy-bear telescope temple-buddhist temple-hindu tie toaster toolbox
  toothbrush torch tortoise tournament toy-brick tractor-variant treasure-chest trumpet tshirt-v tunnel turkey turtle umbrella-beach
  umbrella-closed unicorn unicycle vanish-quarter violin volcano washing-machine water-polo water-pump water-well waterfall watering-can weather-rainy
  weather-snowy weather-sunset weather-windy weight-lifter wheel-barrow whistle windsock wizard-hat yoga zodiac-aquarius zodiac-aries
  zodiac-cancer zodiac-capricorn zodiac-gemini zodiac-leo zodiac-libra zodiac-pisces zodiac-sagittarius zodiac-scorpio
  zodiac-taurus zodiac-virgo
`.trim().split(/\s+/);
const ALSO = {
  "bee": "honey bumblebee", "bow-tie": "ribbon", "bugle": "horn brass", "candle": "light advent", "cards-playing": "deck", "chess-knight": "horse",
  "cradle": "baby", "cross-celtic": "rosary church", "duck": "duckling bird", "food-apple": "apple fruit", "food-croissant": "pastry bakery",
  "fruit-grapes": "wine vineyard", "fruit-citrus": "lemon orange lime", "grass": "meadow", "hand-saw": "saw joiner carpenter woodwork", "hexagram": "star",
  "horse-human": "rider riding", "koala": "bear", "ladybug": "ladybird beetle", "leaf-maple": "autumn fall", "mushroom": "fungus toadstool",
  "nail": "carpenter", "necklace": "beads rosary jewel", "owl": "night bird", "panda": "bear", "pig": "piglet farm", "pine-tree": "fir spruce forest",
  "pretzel": "bakery", "pumpkin": "autumn gourd", "rodent": "rat mouse hamster", "sheep": "lamb wool", "snail": "slow garden", "spider": "web",
  "sprout": "seedling plant", "teddy-bear": "bear toy", "tortoise": "turtle", "trumpet": "brass horn", "violin": "fiddle", "wheel-barrow": "garden",
  "screw-flat-top": "joiner", "saw-blade": "joiner", "shovel": "spade dig garden", "silverware": "cutlery fork knife", "torch": "flame",
  "flower-poppy": "poppy remembrance", "fountain-pen": "nib", "music-clef-treble": "music", "penguin": "bird", "turkey": "bird", "egg-easter": "easter",
};
// Names of firms and programs, by which nothing is found.
const DRAWN = {
  "game-icons": `
    angel-outfit:angel angel-wings:angel ant anvil:smith,blacksmith badger bagpipes banana banjo beaver camel chisel:wood,carver crab
    deer:stag,doe diamond-ring:ring,wedding,engagement dinosaur-rex:dinosaur dove:peace,bird dragon-head:dragon dragonfly drum eagle-emblem:eagle,bird
    engagement-ring:wedding fern:plant,frond flute fox:animal fox-head frog:toad garlic goat gorilla:ape,monkey harp hedgehog lion lotus
    lyre mermaid monkey:ape mountains:peak oak oak-leaf:leaf octopus palm-tree parrot-head:parrot,bird peas raven:crow,bird rooster:cock,hen,chicken,bird rose
    scarecrow seahorse shirt-button:button,sewing sperm-whale:whale squirrel stag-head:deer,antlers strawberry swan:bird tiger-head:tiger tomato
    trowel:garden whale-tail:whale window well wheat:grain vine-leaf:grape,wine beehive:honey,bee sewing-needle:needle,thread sewing-string:thread,bobbin
    daisy:flower sunflower:flower peach pear:fruit lemon:fruit pineapple coconuts:coconut chestnut-leaf:chestnut pine-tree:fir
    ice-skate:skate flamingo:bird giraffe elephant-head:elephant rabbit-head:rabbit,hare,bunny cow:cattle sheep:lamb horse-head:horse,pony bull:ox duck:duckling
    candle-light:candle trophy-cup:trophy,cup rolling-dices:dice hot-air-balloon:balloon wood-axe:axe spade:garden lantern-flame:lantern
    prayer-beads:rosary,beads`,
  "fa6-solid": "otter hippo:hippopotamus crow:raven,bird kiwi-bird:bird worm:garden spider frog dragon ring:jewel,wedding monument place-of-worship:church,temple cheese om",
};
const FIRMS = new Set(["android", "google", "safari", "illustrator", "excel", "uber", "firefox", "chrome", "windows", "nintendo", "playstation", "xbox", "facebook", "twitter", "lego", "pokemon"]);

const chosen = [...new Set([...CHOSEN, ...Object.keys(SIGNS)])];
const words = (name) => [...known.get(name).tags.filter((tag) => !tag.startsWith("*")), ...(SIGNS[name] ? `${SIGNS[name]} pictogram` : "").split(" ")];

const source = (name) =>
  readFileSync(new URL(`node_modules/@phosphor-icons/core/assets/fill/${name}-fill.svg`, import.meta.url), "utf8");

const known = new Map(icons.map((icon) => [icon.name, icon]));
const SIDE = 256; // of the box that all are drawn in
const more = new Map(JSON.parse(readFileSync(new URL("node_modules/@mdi/svg/meta.json", import.meta.url), "utf8")).map((icon) => [icon.name, icon]));
const moreWords = (name) => [...name.split("-"), ...more.get(name).aliases.flatMap((alias) => alias.split("-")), ...(ALSO[name] ?? "").split(" ")];
const moreD = (name) => {
  const svg = readFileSync(new URL(`node_modules/@mdi/svg/svg/${name}.svg`, import.meta.url), "utf8");
  return svgpath(svg.match(/ d="([^"]*)"/)[1]).scale(SIDE / 24).round(2).toString();
};
const found = (list) => [...new Set(list.filter(Boolean).map((word) => word.toLowerCase()))].filter((word) => !FIRMS.has(word));
const mine = chosen.filter((name) => known.has(name) && !name.startsWith("lego")).map((name) => ({
  key: name,
  words: found(words(name)),
  d: [...source(name).matchAll(/<path d="([^"]*)"/g)].map((match) => match[1]).join(""),
}));
const taken = new Set(mine.map((motif) => motif.key));
const theirs = MORE.filter((name) => more.has(name) && !taken.has(name)).map((name) => ({ key: name, words: found(moreWords(name)), d: moreD(name) }));
for (const motif of theirs) taken.add(motif.key);
const others = Object.entries(DRAWN).flatMap(([set, list]) => {
  const { icons: held, height = 512, width: all = 512 } = JSON.parse(readFileSync(new URL(`node_modules/@iconify-json/${set}/icons.json`, import.meta.url), "utf8"));
  return list.trim().split(/\s+/).map((entry) => entry.split(":")).filter(([name]) => held[name] && !taken.has(name)).map(([name, also = ""]) => {
    taken.add(name);
    const wide = held[name].width ?? all;
    const scale = SIDE / Math.max(wide, height);
    const paths = [...held[name].body.matchAll(/ d="([^"]*)"/g)].map((match) => svgpath(match[1]).scale(scale).translate((SIDE - wide * scale) / 2, (SIDE - height * scale) / 2).round(2).toString());
    return { key: name, words: found([...name.split("-"), ...also.split(",")]), d: paths.join("") };
  });
});
const motifs = [...mine, ...theirs, ...others];
const lines = motifs.sort((a, b) => a.key.localeCompare(b.key)).map((motif) => JSON.stringify(motif));
const folder = new URL("../foliant/core/motifs/", import.meta.url);
writeFileSync(new URL("motifs.json", folder), `[\n${lines.join(",\n")}\n]\n`);
copyFileSync(new URL("node_modules/@phosphor-icons/core/LICENSE", import.meta.url), new URL("LICENSE", folder));
const credits = Object.keys(DRAWN).map((set) => {
  const { name, author, license } = JSON.parse(readFileSync(new URL(`node_modules/@iconify-json/${set}/info.json`, import.meta.url), "utf8"));
  return `${name} by ${author.name} (${author.url}), licensed under ${license.title} (${license.url}); scaled.\n`;
});
writeFileSync(new URL("LICENSE-CC-BY", folder), credits.join("\n"));
copyFileSync(new URL("node_modules/@mdi/svg/LICENSE", import.meta.url), new URL("LICENSE-MDI", folder));
console.log(`${motifs.length} motifs`);
