// Looking at a tape: how wide it may be, closer and farther, earlier and later, what a set says.
const LEAST_S = 10;

export function tapeView() {
  return {
    ground: null,
    sets() { return Array.from(this.$refs.tape.querySelectorAll(".tape-set")); },
    svg() { return this.$refs.tape.querySelector(".tape"); },
    room() { return Math.max(0, this.$refs.tape.clientWidth - 2); },
    // Draws the tape anew where the page has other room for it than it was drawn for.
    fit() {
      if (this.svg() && Math.abs(Number(this.svg().getAttribute("width")) - this.room()) > 4) this.refresh();
    },
    seen() {
      const { start, end, whole, left, right } = this.svg().dataset;
      return { start: Number(start), end: Number(end), whole: Number(whole), left: Number(left), right: Number(right) };
    },
    // The time under a pointer.
    timeAt(x) {
      const { start, end, left, right } = this.seen();
      const at = (x - this.svg().getBoundingClientRect().left - left) / (right - left);
      return start + Math.min(1, Math.max(0, at)) * (end - start);
    },
    look() { return this.refresh(); },
    lookAt(start, end) {
      const { whole } = this.seen();
      const length = Math.min(whole, Math.max(LEAST_S, end - start));
      const from = Math.min(whole - length, Math.max(0, start));
      const select = this.$refs.view;
      const wanted = length >= whole ? "" : `${from.toFixed(1)}-${(from + length).toFixed(1)}`;
      select.querySelectorAll("[data-part]").forEach((option) => option.remove());
      if (wanted) {
        const option = new Option("a part", wanted);
        option.dataset.part = "yes";
        select.add(option);
      }
      select.value = wanted;
      return this.refresh();
    },
    zoom(factor, at) {
      const { start, end } = this.seen();
      const middle = at === undefined ? (start + end) / 2 : at;
      return this.lookAt(middle - (middle - start) * factor, middle + (end - middle) * factor);
    },
    pan(share) {
      const { start, end } = this.seen();
      return this.lookAt(start + share * (end - start), end + share * (end - start));
    },
    // Closer goes to the chosen set, if there is one.
    closer() {
      const bar = this.$refs.tape.querySelector(".tape-chosen rect");
      const box = bar && bar.getBoundingClientRect();
      this.zoom(0.5, box ? this.timeAt(box.left + box.width / 2) : undefined);
    },
    farther() { this.zoom(2); },
    viewKeys() {
      return { z: () => this.closer(), x: () => this.farther(), 0: () => this.lookAt(0, Infinity), ",": () => this.pan(-0.25), ".": () => this.pan(0.25) };
    },
    tell(bar) {
      const about = this.$refs.about;
      const told = bar || this.$refs.tape.querySelector(".tape-chosen");
      about.textContent = told ? told.querySelector("title").textContent : about.dataset.usual;
    },
    watchTape() {
      const tape = this.$refs.tape;
      tape.addEventListener("pointerover", (e) => this.tell(e.target.closest(".tape-set")));
      tape.addEventListener("focusin", (e) => this.tell(e.target.closest(".tape-set")));
      tape.addEventListener("wheel", (e) => {
        if (!e.ctrlKey) return;
        e.preventDefault();
        this.zoom(e.deltaY > 0 ? 1.4 : 0.7, this.timeAt(e.clientX));
      }, { passive: false });
      tape.addEventListener("dblclick", (e) => { if (!e.target.closest(".tape-set")) this.zoom(0.4, this.timeAt(e.clientX)); });
      tape.addEventListener("pointerdown", (e) => {
        if (!e.target.closest(".tape-set") && e.target.closest(".tape")) this.ground = { x: e.clientX, ...this.seen() };
      });
      window.addEventListener("pointerup", (e) => {
        const from = this.ground;
        this.ground = null;
        const share = from && (from.x - e.clientX) / (from.right - from.left);
        if (from && Math.abs(share) > 0.01 && from.end - from.start < from.whole) this.pan(share);
      });
    },
  };
}
