// Lengths as the drawing shows them, in the project's unit. Sentences are written by the server.

const INCH = 25.4;

export const ends = (unit) => ({ mm: " mm", in: " in" })[unit] ?? "\u2033";

export function said(millimetres, unit) {
  if (unit === "mm") return trim(millimetres, 2);
  if (unit === "in") return trim(millimetres / INCH, 3);
  const parts = Math.round((Math.abs(millimetres) / INCH) * 64);
  const about = Math.abs(Math.abs(millimetres) / INCH - parts / 64) > 0.0005 ? "~" : "";
  const whole = Math.floor(parts / 64);
  let [top, bottom] = [parts % 64, 64];
  while (top && top % 2 === 0) [top, bottom] = [top / 2, bottom / 2];
  const words = [whole || !top ? String(whole) : "", top ? `${top}/${bottom}` : ""].filter(Boolean).join(" ");
  return `${about}${millimetres < 0 && parts ? "-" : ""}${words}`;
}

function trim(value, places) {
  const text = value.toFixed(places).replace(/\.?0+$/, "");
  return text === "-0" ? "0" : text;
}
