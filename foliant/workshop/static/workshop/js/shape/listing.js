// The list of pieces and their parts.

export const listing = ({ project }) => ({
  // The parts of a role in the list, as they are kept: a drag does not write the list anew. What a combination is
  // made of stands under it.
  partsOf(role) {
    const { parts = [], combined = [] } = project.scenes[this.piece] ?? {};
    if (!combined.length) return parts.filter((part) => part.role === role);
    const known = new Map(parts.map((part) => [part.id, part]));
    const rows = (part, depth) => [{ ...part, depth }, ...part.members.flatMap((id) => (known.has(id) ? rows(known.get(id), depth + 1) : []))];
    return parts.filter((part) => part.role === role && !combined.includes(part.id)).flatMap((part) => rows(part, 0));
  },
  partStyle(part) {
    return [this.isChosen(part.id) ? "chosen" : "", part.data.hidden ? "hidden-part" : "", part.groups.length ? "grouped" : "", part.depth ? "member" : ""].join(" ");
  },
  partSays(part) {
    const { locked, hidden, across, down } = part.data;
    const notes = [part.copies.length ? `× ${part.copies.length + 1}` : "", across || down ? "held" : "", locked ? "locked" : "", hidden ? "hidden" : "", this.idle[part.id]];
    return [part.summary, ...notes.filter(Boolean)].join(", ");
  },
  sizeSays(id) {
    const scene = project.scenes[id];
    if (scene.tied) return `${scene.size} · one a row`;
    return scene.copies === 1 ? scene.size : `${scene.size} · ${scene.copies}`;
  },
});
