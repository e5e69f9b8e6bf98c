// The commands of the Shape station that have no keys: the box of commands finds them by their names.

export const named = (station) => [
  ...station.shelf
    .filter((item) => item.shelf === "more")
    .map((item) => ({ group: "Put on", name: `Put on: ${item.title.toLowerCase()}`, run: () => station.put(item.kind) })),
  { group: "Choose", name: "Choose all of the same role", needs: "parts", run: () => station.chooseSame("role") },
  { group: "Choose", name: "Choose all of the same kind", needs: "parts", run: () => station.chooseSame("kind") },
  { group: "Choose", name: "Show all that is hidden", run: () => station.showAll() },
  { group: "Place", name: "Centre across", needs: "parts", run: () => station.centre("across") },
  { group: "Place", name: "Centre both ways by eye", needs: "parts", run: () => station.centre("eyeBoth") },
  { group: "Place", name: "Centre down", needs: "parts", run: () => station.centre("down") },
  { group: "Place", name: "Hold what is put on, or leave it free", run: () => station.turnHoldsNew() },
  { group: "Size and direction", name: "Size several as one, or each", run: () => station.turnEach() },
  { group: "Many", name: "Let this copy go", needs: "copy", run: () => station.letGo(false) },
  { group: "Many", name: "Let all copies go", needs: "repeated", run: () => station.letGo(true) },
  { group: "Many", name: "Stop repeating", needs: "repeated", run: () => station.doParts("end-repeat") },
  { group: "Many", name: "Split words into letters", needs: "parts", run: () => station.doParts("split-words") },
  { group: "Nodes", name: "Make plain", needs: "parts", run: () => station.makePlain() },
  { group: "Nodes", name: "Corner node", needs: "nodes", run: () => station.nodes("kind", { kind: "corner" }) },
  { group: "Nodes", name: "Smooth node", needs: "nodes", run: () => station.nodes("kind", { kind: "smooth" }) },
  { group: "Nodes", name: "Symmetric node", needs: "nodes", run: () => station.nodes("kind", { kind: "symmetric" }) },
  { group: "Nodes", name: "Segment to a line", needs: "nodes", run: () => station.nodes("line") },
  { group: "Nodes", name: "Segment to a curve", needs: "nodes", run: () => station.nodes("curve") },
  { group: "Nodes", name: "Break at the node", needs: "nodes", run: () => station.nodes("break") },
  { group: "Nodes", name: "Join two ends", needs: "nodes", run: () => station.nodes("join") },
  { group: "The piece", name: "New piece", run: () => station.addPiece() },
  { group: "The piece", name: "Duplicate the piece", run: () => station.duplicatePiece() },
  { group: "The piece", name: "Lengths in mm", run: () => station.setUnit("mm") },
  { group: "The piece", name: "Lengths in inches", run: () => station.setUnit("in") },
  { group: "The piece", name: "Lengths in fractions of an inch, to 1/64", run: () => station.setUnit("fraction") },
];
