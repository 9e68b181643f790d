// Lift: attempts that are typed, marked and undone.
import { comparing, component, latest, plainKey } from "./tools.js";
import { undoable } from "./undoable.js";

component("lifter", () => ({
  send: latest(),
  ...comparing(),
  ...undoable(),
  init() {
    if (!this.$refs.form) return;
    this.last = this.state();
    // What was typed before this script arrived counts too.
    if (this.fields().some((f) => f.tagName === "INPUT" && f.value !== f.defaultValue)) this.refresh();
  },
  fields() { return Array.from(this.$refs.form.querySelectorAll("input[name], select[name]")).filter((f) => !/csrf|unit/.test(f.name)); },
  value(field) { return field.type === "checkbox" ? field.checked : field.value; },
  put(field, value) { if (field.type === "checkbox") field.checked = value; else field.value = value; },
  state() { return JSON.stringify(this.fields().map((f) => [f.name, this.value(f)])); },
  show(state) {
    const values = new Map(JSON.parse(state));
    this.fields().forEach((f) => { if (values.has(f.name)) this.put(f, values.get(f.name)); });
    this.last = state;
    this.refresh();
  },
  // What has a result is no plan any more: its load and start stay what they were.
  freeze() {
    this.fields().filter((f) => f.name.startsWith("result-") && f.value).forEach((result) => {
      ["load", "start"].forEach((name) => {
        const field = this.$refs.form.elements[result.name.replace("result", name)];
        if (field && !field.value) field.value = field.placeholder;
      });
    });
  },
  async preview() {
    this.freeze();
    this.remember();
    await this.refresh();
  },
  async refresh() {
    const begun = performance.now();
    const answer = await this.send(this.$root.dataset.url, new FormData(this.$refs.form));
    if (!answer) return;
    const problem = this.$refs.problem;
    problem.hidden = answer.ok;
    this.$refs.board.classList.toggle("stale", !answer.ok);
    if (!answer.ok) {
      problem.textContent = Object.values(answer.data.errors).join(" · ");
      this.$refs.sure.hidden = !("one_rm" in answer.data.errors);
      return;
    }
    this.swap(answer.data.html);
    this.$root.dataset.redrawMs = (performance.now() - begun).toFixed(1);
  },
  // The board holds fields: what was typed since the request, the focus and the caret outlive the new picture.
  swap(html) {
    const board = this.$refs.board;
    const typed = new Map(this.fields().map((f) => [f.name, this.value(f)]));
    const active = board.contains(document.activeElement) ? document.activeElement : null;
    const caret = active && active.tagName === "INPUT" ? [active.selectionStart, active.selectionEnd] : null;
    board.innerHTML = html;
    this.fields().forEach((f) => { if (typed.has(f.name)) this.put(f, typed.get(f.name)); });
    const again = active && this.$refs.form.elements[active.name];
    if (again) again.focus();
    if (again && caret) again.setSelectionRange(...caret);
  },
  clear() {
    this.fields().filter((f) => /^(load|start|result)-/.test(f.name)).forEach((f) => { f.value = ""; });
    this.preview();
  },
  // The server shows the page anew in the other unit; what was typed goes along with the unit it was typed in.
  switchUnit(event) {
    event.stopPropagation();
    const unit = this.$refs.unit.value;
    const here = new URL(location.pathname, location.origin);
    this.fields().filter((f) => this.value(f)).forEach((f) => {
      const load = /^(load-|one_rm|goal|opening)/.test(f.name) && /^[\d.,]+$/.test(f.value.trim());
      here.searchParams.set(f.name, load ? `${f.value.trim()} ${unit === "lb" ? "kg" : "lb"}` : this.value(f));
    });
    here.searchParams.set("unit", unit);
    location.assign(here);
  },
  open() { return this.fields().find((f) => f.name.startsWith("result-") && !f.value); },
  mark(result) {
    const field = this.open();
    if (!field) return;
    field.value = result;
    this.preview();
  },
  key(event) {
    if (this.historyKey(event) || !plainKey(event)) return;
    if (event.key === "j") location.assign(this.$root.dataset.next);
    if (event.key === "k") location.assign(this.$root.dataset.previous);
    if (!this.$refs.form) return;
    if (event.key === "m") this.mark("made");
    if (event.key === "x") this.mark("missed");
    if (event.key === "c") this.compare();
    if (event.key === "e") {
      event.preventDefault();
      const field = this.open();
      if (field) this.$refs.form.elements[field.name.replace("result", "load")].focus();
    }
  },
}));
