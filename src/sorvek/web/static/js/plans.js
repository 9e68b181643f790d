// Break: sets that are typed and edited on the tape.
import { comparing, component, latest, plainKey } from "./tools.js";
import { undoable } from "./undoable.js";

component("breaker", () => ({
  send: latest(),
  ...comparing(),
  ...undoable(),
  chosen: null,
  drag: null,
  init() {
    if (!this.$refs.form) return;
    this.last = JSON.stringify(this.inputs().map((input) => input.defaultValue));
    // What was typed before this script arrived counts too.
    if (this.state() !== this.last) this.preview();
    this.temperaments();
    this.$refs.board.addEventListener("pointerdown", (e) => this.press(e));
    window.addEventListener("pointermove", (e) => this.pull(e));
    window.addEventListener("pointerup", () => { this.drag = null; });
  },
  state() { return JSON.stringify(this.inputs().map((input) => input.value)); },
  show(state) {
    JSON.parse(state).forEach((text, i) => { this.inputs()[i].value = text; });
    this.last = state;
    this.refresh();
  },
  sets() { return Array.from(this.$refs.board.querySelectorAll(".tape-set")); },
  choose(segment, set) {
    const found = this.sets().filter((g) => Number(g.dataset.segment) === segment);
    const bar = found.filter((g) => Number(g.dataset.set) <= set).pop() || found[0];
    this.sets().forEach((g) => g.classList.toggle("tape-chosen", g === bar));
    this.chosen = bar ? { segment, set: Number(bar.dataset.set) } : null;
    this.$refs.tools.hidden = !bar;
    if (bar) this.$refs.chosen.textContent = bar.querySelector("title").textContent;
  },
  press(event) {
    const bar = event.target.closest(".tape-set");
    if (!bar) return;
    event.preventDefault();
    document.activeElement.blur();
    this.choose(Number(bar.dataset.segment), Number(bar.dataset.set));
    const width = bar.querySelector("rect").getBoundingClientRect().width;
    this.drag = { x: event.clientX, rep: Math.max(6, width / Number(bar.dataset.reps)), busy: false };
  },
  async pull(event) {
    const drag = this.drag;
    if (!drag) return;
    drag.now = event.clientX;
    if (drag.busy) return;
    drag.busy = true;
    // The pointer may have gone on while an answer was awaited.
    for (let reps; (reps = Math.trunc((drag.now - drag.x) / drag.rep)); ) {
      drag.x += reps * drag.rep;
      await this.edit(reps > 0 ? "more" : "less", Math.abs(reps));
    }
    drag.busy = false;
  },
  editClick(event) { this.edit(event.target.dataset.editKind, 1); },
  async edit(kind, by) {
    if (!this.chosen) return;
    const body = new FormData(this.$refs.form);
    Object.entries({ ...this.chosen, edit: kind, by }).forEach(([name, value]) => body.set(name, value));
    await this.change(this.$root.dataset.edit, body);
  },
  async temperaments() {
    const place = this.$refs.tempers;
    const response = await fetch(place.dataset.url);
    place.innerHTML = response.ok ? (await response.json()).html : "";
    this.mark();
  },
  tempers() { return Array.from(this.$refs.tempers.querySelectorAll("[data-temper]")); },
  goIn(event) {
    const button = event.target.closest("[data-temper]");
    if (button) this.take(button);
  },
  // Puts a temperament's sets into the fields; the last one taken is what is kept.
  async take(button) {
    this.$refs.temper.value = button.dataset.temper;
    this.mark();
    JSON.parse(button.dataset.texts).forEach((text, i) => { this.inputs()[i].value = text; });
    await this.preview();
  },
  mark() {
    this.tempers().forEach((button) => {
      const chosen = button.dataset.temper === this.$refs.temper.value;
      button.setAttribute("aria-pressed", chosen);
      button.classList.toggle("btn-secondary", chosen);
      button.classList.toggle("btn-outline-secondary", !chosen);
      button.closest("tr").classList.toggle("own", chosen);
    });
  },
  async replan() {
    const button = this.$refs.replan;
    button.disabled = true;
    await this.change(this.$root.dataset.replan, new FormData(this.$refs.form));
    button.disabled = false;
  },
  async change(url, body) {
    const answer = await this.ask(url, body);
    const trouble = this.$refs.trouble;
    trouble.hidden = !answer || answer.ok;
    if (answer && !answer.ok) trouble.textContent = answer.data.problem || "Correct the sets first.";
    if (!answer || !answer.ok) return;
    answer.data.texts.forEach((text, i) => { this.inputs()[i].value = text; });
    await this.preview();
  },
  inputs() { return Array.from(this.$refs.form.querySelectorAll("input[data-computed]")); },
  async preview() {
    this.remember();
    await this.refresh();
  },
  async refresh() {
    const begun = performance.now();
    const answer = await this.send(this.$root.dataset.url, new FormData(this.$refs.form));
    if (!answer) return;
    const errors = answer.data.errors || {};
    this.inputs().forEach((input, i) => {
      const line = document.getElementById(`error-${i}`);
      input.classList.toggle("is-invalid", i in errors);
      line.textContent = errors[i] || "";
      line.hidden = !(i in errors);
    });
    this.$refs.board.classList.toggle("stale", !answer.ok);
    if (!answer.ok) return;
    this.$refs.board.innerHTML = answer.data.html;
    this.$refs.splits.innerHTML = answer.data.splits;
    if (this.chosen) this.choose(this.chosen.segment, this.chosen.set);
    this.$root.dataset.redrawMs = (performance.now() - begun).toFixed(1);
  },
  computed() {
    this.inputs().forEach((input) => { input.value = input.dataset.computed; });
    this.preview();
  },
  restore(event) {
    event.target.value = event.target.defaultValue;
    this.preview();
  },
  next(by) {
    const bars = this.sets();
    const at = bars.findIndex((g) => g.classList.contains("tape-chosen"));
    const bar = bars[Math.min(bars.length - 1, Math.max(0, at + by))];
    if (bar) this.choose(Number(bar.dataset.segment), Number(bar.dataset.set));
  },
  key(event) {
    if (this.historyKey(event) || !plainKey(event)) return;
    const edits = { s: "split", m: "join", ArrowLeft: "less", ArrowRight: "more", "+": "rest more", "-": "rest less", ">": "slower", "<": "faster" };
    if (this.chosen && edits[event.key]) {
      event.preventDefault();
      this.edit(edits[event.key], 1);
      return;
    }
    if (event.key === "[" || event.key === "]") this.next(event.key === "]" ? 1 : -1);
    if (event.key === "l" && this.$refs.form) this.replan();
    const temper = this.$refs.form && this.tempers()[Number(event.key) - 1];
    if (temper) this.take(temper);
    if (event.key === "c") this.compare();
    if (event.key === "j") location.assign(this.$root.dataset.next);
    if (event.key === "k") location.assign(this.$root.dataset.previous);
    if (event.key === "e") {
      event.preventDefault();
      this.inputs()[0].focus();
      this.inputs()[0].select();
    }
  },
}));
