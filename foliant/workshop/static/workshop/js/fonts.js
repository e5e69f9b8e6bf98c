// The lettering fonts as faces for the page, loaded only when a name is to be shown in its own letters.

let fonts = [];
const loaded = new Map();

export function setFonts(list) {
  fonts = list;
}

export function loadFace(key) {
  const family = `lettering-${key}`;
  const font = fonts.find((found) => found.key === key);
  if (font && !loaded.has(key)) {
    loaded.set(key, true);
    const face = new FontFace(family, `url(/static/lettering/${font.files[0]})`, { weight: String(font.weight) });
    document.fonts.add(face);
    face.load().catch(() => loaded.delete(key));
  }
  return family;
}
