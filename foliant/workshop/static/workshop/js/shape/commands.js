// Every command of the Shape station by its name: the keys, the shortcut sheet and the command box all read this list.
// Those without keys are in `named.js`. `keys` are as a KeyboardEvent tells them, with Ctrl+ and Shift+ before; `needs` says when a command can be done.

const TURN = { name: "Turn", group: "Size and direction" };

export function commands(station) {
  const list = [
    { group: "Put on", name: "Put on a rectangle", keys: ["1"], run: () => station.put("rectangle") },
    { group: "Put on", name: "Put on a circle", keys: ["2"], run: () => station.put("circle") },
    { group: "Put on", name: "Put on a ring", keys: ["3"], run: () => station.put("ring") },
    { group: "Put on", name: "Put on words", keys: ["4"], run: () => station.put("words") },
    { group: "Put on", name: "Put on a hole", keys: ["5"], run: () => station.put("hole") },
    { group: "Put on", name: "Put on a motif…", keys: ["6"], run: () => station.open("motifs") },
    { group: "Put on", name: "Draw with the pen", keys: ["7"], run: () => station.setTool("pen") },

    { group: "Choose", name: "Choose everything", keys: ["Ctrl+a"], run: () => station.chooseAll() },
    { group: "Choose", name: "Choose nothing, or leave the tool", keys: ["Escape"], run: () => station.escape() },
    { group: "Choose", name: "Choose the one underneath", keys: ["u"], needs: "parts", run: () => station.chooseUnder() },
    { group: "Choose", name: "Choose the next part", keys: ["."], run: () => station.chooseNext(1) },
    { group: "Choose", name: "Choose the part before", keys: [","], run: () => station.chooseNext(-1) },
    { group: "Choose", name: "Marquee: touching or enclosing", keys: ["t"], run: () => station.turnMarquee() },
    { group: "Choose", name: "Group", keys: ["Ctrl+g"], needs: "several", run: () => station.doParts("group-parts") },
    { group: "Choose", name: "Ungroup", keys: ["Ctrl+Shift+g"], needs: "parts", run: () => station.doParts("ungroup-parts") },
    { group: "Choose", name: "Lock or unlock", keys: ["k"], needs: "parts", run: () => station.toggle("locked") },
    { group: "Choose", name: "Hide or show", keys: ["v"], needs: "parts", run: () => station.toggle("hidden") },
    { group: "Choose", name: "Raise", keys: [">"], needs: "parts", run: () => station.doParts("order-parts", { to: "up" }) },
    { group: "Choose", name: "Lower", keys: ["<"], needs: "parts", run: () => station.doParts("order-parts", { to: "down" }) },
    { group: "Choose", name: "Bring to the top", keys: ["Ctrl+>"], needs: "parts", run: () => station.doParts("order-parts", { to: "top" }) },
    { group: "Choose", name: "Send to the bottom", keys: ["Ctrl+<"], needs: "parts", run: () => station.doParts("order-parts", { to: "bottom" }) },

    { group: "Place", name: "Nudge left", keys: ["ArrowLeft", "Shift+ArrowLeft"], needs: "parts", run: (event) => station.nudge(-1, 0, event) },
    { group: "Place", name: "Nudge right", keys: ["ArrowRight", "Shift+ArrowRight"], needs: "parts", run: (event) => station.nudge(1, 0, event) },
    { group: "Place", name: "Nudge up", keys: ["ArrowUp", "Shift+ArrowUp"], needs: "parts", run: (event) => station.nudge(0, -1, event) },
    { group: "Place", name: "Nudge down", keys: ["ArrowDown", "Shift+ArrowDown"], needs: "parts", run: (event) => station.nudge(0, 1, event) },
    { group: "Place", name: "Put on a point…", keys: ["g"], needs: "parts", run: () => station.open("points") },
    { group: "Place", name: "Centre on the piece", keys: ["c"], needs: "parts", run: () => station.centre("both") },
    { group: "Place", name: "Centre across by eye", keys: ["Shift+c"], needs: "parts", run: () => station.centre("eye") },
    { group: "Place", name: "Align…", keys: ["a"], needs: "parts", run: () => station.open("align") },
    { group: "Place", name: "Spread…", keys: ["s"], needs: "several", run: () => station.open("spread") },
    { group: "Place", name: "Hold it here, or let it go", keys: ["h"], needs: "parts", run: () => station.hold() },
    { group: "Place", name: "Snapping on or off", keys: ["j"], run: () => station.turnSnapping() },
    { group: "Place", name: "Measure", keys: ["9"], run: () => station.setTool("measure") },

    { ...TURN, name: "Turn a quarter to the right", keys: ["e"], needs: "parts", run: () => station.turn(90) },
    { ...TURN, name: "Turn a quarter to the left", keys: ["Shift+e"], needs: "parts", run: () => station.turn(-90) },
    { ...TURN, name: "Flip left to right", keys: ["x"], needs: "parts", run: () => station.doParts("flip-parts", { axis: "across" }) },
    { ...TURN, name: "Flip top to bottom", keys: ["y"], needs: "parts", run: () => station.doParts("flip-parts", { axis: "down" }) },
    { ...TURN, name: "Keep its proportions, or free them", keys: ["b"], needs: "parts", run: () => station.toggle("proportional") },

    { group: "Many", name: "The next row of the roster", keys: ["PageDown"], run: () => station.walkRows(1) },
    { group: "Many", name: "The row before", keys: ["PageUp"], run: () => station.walkRows(-1) },
    { group: "Many", name: "Duplicate", keys: ["d"], needs: "parts", run: () => station.duplicate() },
    { group: "Many", name: "Duplicate in place", keys: ["Ctrl+d"], needs: "parts", run: () => station.duplicate(0, 0) },
    { group: "Many", name: "Duplicate with the last move", keys: ["Shift+d"], needs: "parts", run: () => station.duplicateAgain() },
    { group: "Many", name: "Repeat…", keys: ["p"], needs: "parts", run: () => station.open("repeat") },
    { group: "Many", name: "Copy", keys: ["Ctrl+c"], own: true, needs: "parts", run: () => document.execCommand("copy") },
    { group: "Many", name: "Cut", keys: ["Ctrl+x"], own: true, needs: "parts", run: () => document.execCommand("cut") },
    { group: "Many", name: "Paste", keys: ["Ctrl+v"], own: true, run: () => station.pasteAsked() },

    { group: "Nodes", name: "Edit nodes", keys: ["8"], needs: "one", run: () => station.setTool("nodes") },
    { group: "Nodes", name: "Add a node after this one", keys: ["n"], needs: "nodes", run: () => station.nodes("add") },

    { group: "The piece", name: "Give it the next role", keys: ["r"], run: () => station.turnRole() },
    { group: "The piece", name: "Take it off the piece", keys: ["Delete", "Backspace"], needs: "parts", run: () => station.remove() },
    { group: "The piece", name: "Fit the piece to the window", keys: ["f"], run: () => station.fit() },
    { group: "The piece", name: "Fit what is chosen", keys: ["z"], needs: "parts", run: () => station.fitChosen() },
    { group: "The piece", name: "Zoom in", keys: ["+", "="], run: () => station.zoom(0.8) },
    { group: "The piece", name: "Zoom out", keys: ["-"], run: () => station.zoom(1.25) },
    { group: "The piece", name: "Finished look or toolpaths", keys: ["l"], run: () => station.turnLook() },
    { group: "The piece", name: "Any command by its name", keys: ["Ctrl+k", "/"], run: () => station.openCommands() },
  ];
  return list;
}
