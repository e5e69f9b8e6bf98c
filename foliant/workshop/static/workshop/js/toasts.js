// Short notes at the foot of the page, each with at most one thing to do.

export function registerToasts(Alpine) {
  Alpine.store("toasts", {
    list: [],
    next: 1,
    say(text, { bad = false, action = "", run = null, seconds = 7 } = {}) {
      const id = this.next++;
      this.list = [...this.list.filter((note) => note.text !== text), { id, text, bad, action, run }];
      setTimeout(() => this.drop(id), seconds * 1000);
      return id;
    },
    // What was said goes on in other words.
    tell(id, text) {
      this.list = this.list.map((note) => (note.id === id ? { ...note, text } : note));
    },
    drop(id) {
      this.list = this.list.filter((note) => note.id !== id);
    },
    act(note) {
      this.drop(note.id);
      note.run?.();
    },
  });
}
