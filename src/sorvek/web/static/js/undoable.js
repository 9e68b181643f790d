// Undo and redo for a component with state() and show(state): every state the fields have been in can be gone
// back to, whoever changed them: keys, pointer or typing.
export function undoable() {
  return {
    done: [],
    undone: [],
    last: null,
    remember() {
      const now = this.state();
      if (now === this.last) return;
      this.done.push(this.last);
      this.undone = [];
      this.last = now;
      this.buttons();
    },
    buttons() {
      this.$refs.undo.disabled = !this.done.length;
      this.$refs.redo.disabled = !this.undone.length;
    },
    undo() { this.step(this.done, this.undone); },
    redo() { this.step(this.undone, this.done); },
    step(from, to) {
      if (!from.length) return;
      to.push(this.last);
      this.show(from.pop());
      this.buttons();
    },
    historyKey(event) {
      const asked = (event.ctrlKey || event.metaKey) && this.$refs.form && /^[zy]$/i.test(event.key);
      if (!asked) return false;
      event.preventDefault();
      event.key.toLowerCase() === "y" || event.shiftKey ? this.redo() : this.undo();
      return true;
    },
  };
}
