// Break: sets that are typed in their lanes and edited on the tape.
import { comparing, component, latest, plainKey } from "./tools.js";
import { tapeView } from "./tape.js";
import { undoable } from "./undoable.js";

component("breaker", () => ({
  send: latest(),
  ...comparing(),
  ...undoable(),
  ...tapeView(),
  chosen: null,
  drag: null,
  texts: {},
  init() {
    if (!this.$refs.form) return;
    this.last = JSON.stringify(this.inputs().map((input) => input.defaultValue));
    // What was typed before this script arrived counts too.
    if (this.state() !== this.last) this.preview(); else this.fit();
    this.temperaments();
    this.watchTape();
    this.$refs.tape.addEventListener("pointerdown", (e) => this.press(e));
    window.addEventListener("pointermove", (e) => this.pull(e));
    window.addEventListener("pointerup", () => { this.drag = null; });
  },
  state() { return JSON.stringify(this.inputs().map((input) => input.value)); },
  show(state) {
    this.write(JSON.parse(state));
    this.last = state;
    this.refresh();
  },
  write(texts) { texts.forEach((text, i) => { this.inputs()[i].value = text; }); },
  choose(segment, set) {
    const found = this.sets().filter((g) => Number(g.dataset.segment) === segment);
    const bar = found.filter((g) => Number(g.dataset.set) <= set).pop() || found[0];
    this.sets().forEach((g) => g.classList.toggle("tape-chosen", g === bar));
    this.chosen = bar ? { segment, set: Number(bar.dataset.set) } : null;
    this.$refs.tools.hidden = !bar;
    this.tell(bar);
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
  body(more) {
    const body = new FormData(this.$refs.form);
    Object.entries(more).forEach(([name, value]) => body.set(name, value));
    return body;
  },
  editClick(event) { this.edit(event.target.dataset.editKind, 1); },
  async edit(kind, by) {
    if (this.chosen) await this.change(this.$root.dataset.edit, this.body({ ...this.chosen, edit: kind, by }));
  },
  // Pace or style of a lane, for all its rounds.
  cast(event) {
    const { value, dataset } = event.target;
    if (value) this.change(this.$root.dataset.cast, this.body({ slot: event.target.closest("[data-slot]").dataset.slot, [dataset.cast]: value }));
  },
  async temperaments() {
    const response = await fetch(this.$root.dataset.tempers);
    const data = response.ok ? await response.json() : { html: "", texts: {} };
    this.$refs.sides.innerHTML = data.html;
    this.texts = data.texts;
    this.mark();
  },
  tempers() { return Array.from(this.$refs.tempers.querySelectorAll("[data-temper]")); },
  goIn(event) {
    const button = event.target.closest("[data-temper]");
    if (button) this.take(button.dataset.temper);
  },
  // Puts a temperament's sets into the fields; the last one taken is what is kept.
  async take(name) {
    if (!this.texts[name]) return;
    this.$refs.temper.value = name;
    this.mark();
    this.write(this.texts[name]);
    await this.preview();
  },
  mark() {
    const own = this.$refs.temper.value;
    this.tempers().forEach((button) => {
      button.disabled = !this.texts[button.dataset.temper];
      button.setAttribute("aria-pressed", button.dataset.temper === own);
      button.classList.toggle("active", button.dataset.temper === own);
    });
    this.$refs.sides.querySelectorAll("[data-row]").forEach((row) => row.classList.toggle("own", row.dataset.row === own));
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
    this.write(answer.data.texts);
    await this.preview();
  },
  inputs() { return Array.from(this.$refs.form.querySelectorAll("input[data-computed]")); },
  async preview() {
    this.remember();
    await this.refresh();
  },
  async refresh() {
    const begun = performance.now();
    const answer = await this.send(this.$root.dataset.url, this.body({ room: this.room() }));
    if (!answer) return;
    const errors = answer.data.errors || {};
    this.inputs().forEach((input, i) => {
      const line = document.getElementById(`error-${i}`);
      input.title = input.value;
      input.classList.toggle("is-invalid", i in errors);
      line.textContent = errors[i] || "";
      line.hidden = !(i in errors);
    });
    ["head", "tape", "reason", "splits"].forEach((part) => {
      this.$refs[part].classList.toggle("stale", !answer.ok);
      if (answer.ok) this.$refs[part].innerHTML = answer.data[part];
    });
    if (!answer.ok) return;
    answer.data.casts.forEach((lane, i) => this.showCast(i, lane));
    this.chosen ? this.choose(this.chosen.segment, this.chosen.set) : this.tell(null);
    this.$root.dataset.redrawMs = (performance.now() - begun).toFixed(1);
  },
  showCast(i, lane) {
    this.$refs.form.querySelectorAll(`[data-slot="${i}"] [data-cast]`).forEach((select) => {
      const value = lane[select.dataset.cast];
      const known = Array.from(select.options).some((option) => option.value === value);
      if (!known) select.add(new Option(value ? `×${value}` : "–", value));
      select.value = value;
    });
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
    if (event.key === "j") location.assign(this.$root.dataset.next);
    if (event.key === "k") location.assign(this.$root.dataset.previous);
    if (!this.$refs.form) return;
    const edits = { s: "split", m: "join", ArrowLeft: "less", ArrowRight: "more", "+": "rest more", "-": "rest less", ">": "slower", "<": "faster" };
    if (this.chosen && edits[event.key]) {
      event.preventDefault();
      this.edit(edits[event.key], 1);
      return;
    }
    const temper = this.tempers()[Number(event.key) - 1];
    if (temper) this.take(temper.dataset.temper);
    const acts = {
      "[": () => this.next(-1),
      "]": () => this.next(1),
      Escape: () => this.choose(-1, 0),
      l: () => this.replan(),
      c: () => this.compare(),
      e: () => { event.preventDefault(); this.inputs()[0].focus(); this.inputs()[0].select(); },
      ...this.viewKeys(),
    };
    if (acts[event.key]) acts[event.key]();
  },
}));
