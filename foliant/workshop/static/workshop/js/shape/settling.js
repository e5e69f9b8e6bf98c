// Pictures on their way: until one is here as it is wanted, it is shown as it was last, so that nothing flickers.

const here = new Set();
const asked = new Set();
const last = new Map(); // a picture to the address at which it was seen last

// The address to show for the one that is wanted; `come` is called once that is here.
export function settled(address, come) {
  const [picture] = address.split("?");
  if (here.has(address)) last.set(picture, address);
  else if (!asked.has(address)) {
    asked.add(address);
    const image = new Image();
    image.onload = () => {
      here.add(address);
      come();
    };
    image.onerror = () => asked.delete(address);
    image.src = address;
  }
  return here.has(address) ? address : (last.get(picture) ?? address);
}
