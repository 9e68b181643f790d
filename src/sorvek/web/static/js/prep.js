// Prep: the parts of the warm-up are made longer or shorter by key, by pointer or by typing.
import { component, latest, plainKey } from "./tools.js";
import { undoable } from "./undoable.js";

const STEP_S = 30;
const clock = (s) => `${Math.floor(s / 60)}:${String(s % 60).padStart(2, "0")}`;

component("warmer", () => ({
  send: latest(),
  ...undoable(),
  init() {
    if (!this.$refs.form) return;
    this.last = this.state();
    this.layOut();
  },
  fields() { return Array.from(this.$refs.form.querySelectorAll("input[name], select[name]")).filter((f) => !/csrf|version/.test(f.name)); },
  state() { return JSON.stringify(this.fields().map((f) => [f.name, f.type === "checkbox" ? f.checked : f.value])); },
  show(state) {
    const values = new Map(JSON.parse(state));
    this.fields().forEach((f) => {
      const value = values.has(f.name) ? values.get(f.name) : "";
      if (f.type === "checkbox") f.checked = value; else f.value = value;
    });
    this.last = state;
    this.refresh();
  },
  layOut() { this.$refs.board.querySelectorAll(".warm-part").forEach((part) => { part.style.flexGrow = part.dataset.width; }); },
  preview() {
    this.remember();
    return this.refresh();
  },
  async refresh() {
    const answer = await this.send(this.$root.dataset.url, new FormData(this.$refs.form));
    if (!answer) return;
    const problem = this.$refs.problem;
    problem.hidden = answer.ok;
    this.$refs.board.classList.toggle("stale", !answer.ok);
    if (!answer.ok) { problem.textContent = Object.values(answer.data.errors).join(" · "); return; }
    const board = this.$refs.board;
    const typed = new Map(this.fields().map((f) => [f.name, f.value]));
    const active = board.contains(document.activeElement) ? document.activeElement : null;
    board.innerHTML = answer.data.html;
    this.layOut();
    board.querySelectorAll("input[name]").forEach((f) => { if (typed.has(f.name)) f.value = typed.get(f.name); });
    if (!active) return;
    const again = active.name ? this.$refs.form.elements[active.name] : board.querySelector(`[data-field="${active.dataset.field}"]`);
    if (again) again.focus();
  },
  stretch(name, seconds) {
    const field = this.$refs.form.elements[name];
    field.value = clock(Math.max(0, Math.min(3600, seconds)));
    this.preview();
  },
  // Moves a part by seconds: the part before it gets longer by as much and the one behind it shorter, or the other
  // way round. Where it is moved past the whole of a neighbour it changes places with it.
  shift(part, seconds) {
    const parts = Array.from(this.$refs.board.querySelectorAll(".warm-part"));
    const at = parts.indexOf(part);
    const [before, behind] = [parts[at - 1], parts[at + 1]];
    const room = seconds > 0 ? behind : before;
    if (room && Math.abs(seconds) >= Number(room.dataset.seconds)) return this.swap(part, Math.sign(seconds));
    if (!behind) return;
    if (before) this.put(before, Number(before.dataset.seconds) + seconds);
    this.put(behind, Number(behind.dataset.seconds) - seconds);
    this.preview();
  },
  put(part, seconds) { this.$refs.form.elements[part.dataset.field].value = clock(Math.max(STEP_S, Math.min(3600, seconds))); },
  swap(part, by) {
    const field = this.$refs.form.elements.order;
    const shown = Array.from(this.$refs.board.querySelectorAll(".warm-part"), (one) => one.dataset.field);
    const other = shown[shown.indexOf(part.dataset.field) + by];
    if (!other) return;
    const names = field.value.split(" ");
    const [a, b] = [names.indexOf(part.dataset.field), names.indexOf(other)];
    names.splice(b, 0, names.splice(a, 1)[0]);
    field.value = names.join(" ");
    this.preview();
  },
  grab(event) {
    const part = event.target.closest(".warm-part");
    if (!part) return;
    event.preventDefault();
    part.focus();
    const edge = event.target.closest(".warm-edge");
    const own = Number(part.dataset.seconds);
    const perPixel = own / part.getBoundingClientRect().width;
    const begun = event.clientX;
    const seconds = (move) => STEP_S * Math.round(((move.clientX - begun) * perPixel) / STEP_S);
    const moved = (move) => {
      if (edge) part.querySelector("em").textContent = clock(Math.max(0, own + seconds(move)));
      else part.style.transform = `translateX(${move.clientX - begun}px)`;
    };
    const dropped = (up) => {
      window.removeEventListener("pointermove", moved);
      window.removeEventListener("pointerup", dropped);
      part.style.transform = "";
      if (edge) this.stretch(part.dataset.field, own + seconds(up));
      else if (seconds(up)) this.shift(part, seconds(up));
    };
    window.addEventListener("pointermove", moved);
    window.addEventListener("pointerup", dropped);
  },
  key(event) {
    if (this.historyKey(event)) return;
    const part = event.target.closest ? event.target.closest(".warm-part") : null;
    if (part && /^Arrow(Left|Right)$/.test(event.key)) {
      event.preventDefault();
      const by = event.key === "ArrowRight" ? 1 : -1;
      if (event.altKey) this.swap(part, by);
      else if (event.shiftKey) this.shift(part, by * STEP_S);
      else this.stretch(part.dataset.field, Number(part.dataset.seconds) + by * STEP_S);
      return;
    }
    if (!plainKey(event)) return;
    if (event.key === "j") location.assign(this.$root.dataset.next);
    if (event.key === "k") location.assign(this.$root.dataset.previous);
  },
}));
