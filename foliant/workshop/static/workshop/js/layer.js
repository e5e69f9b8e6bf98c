// One layer of a drawing: written anew only where what it shows is not what it showed, so that what lies in it stays
// under the pointer while something else is drawn.

const SVG = "http://www.w3.org/2000/svg";

export const group = (into) => into.appendChild(document.createElementNS(SVG, "g"));

export class Layer {
  constructor(into) {
    this.element = group(into);
    this.shows([]);
  }

  // `key` tells what is shown without writing it.
  fill(key, markup) {
    if (key.length === this.key.length && key.every((part, i) => part === this.key[i])) return;
    this.shows(key);
    this.element.innerHTML = markup();
  }

  // What it was brought to show by other hands; nothing to have it written anew.
  shows(key) {
    this.key = key;
  }

  clear() {
    this.shows([]);
    this.element.innerHTML = "";
  }
}
