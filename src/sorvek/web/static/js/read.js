// Read: the notation as it is typed.
import { component, latest, token } from "./tools.js";

component("reader", () => ({
  send: latest(),
  canonical: "",
  later: 0,
  names: [],
  paste: false,
  marked: "",
  init() {
    this.names = JSON.parse(this.$root.dataset.names);
    this.number(0);
    this.forecast();
    // What was typed before this script arrived counts too.
    if (this.$refs.text.value !== this.$refs.text.defaultValue) this.check();
  },
  // The same text behind the typed one: it numbers the lines, grows with them, and can be lit up line by line.
  number(wrong) {
    const row = (words, i) => Object.assign(document.createElement("div"), { textContent: words || "\u200b", className: i + 1 === wrong ? "row-line wrong" : "row-line" });
    this.$refs.lines.replaceChildren(...this.rows().map(row));
    this.mark(this.marked);
    this.listDoubts();
  },
  // Between two checks the text behind grows at once, so that nothing is cut off while one types.
  grow() {
    const rows = this.rows();
    if (this.$refs.lines.children.length !== rows.length) this.number(0);
  },
  rows() { return this.$refs.text.value.split("\n"); },
  // Lines of the notation and the words of the source they came from light up together.
  mark(line) {
    this.marked = line;
    const same = (words) => line && words.trim() === line;
    for (const row of this.$refs.lines.children) row.classList.toggle("lit", Boolean(same(row.textContent)));
    for (const piece of this.$refs.words.querySelectorAll("[data-line]")) piece.classList.toggle("lit", Boolean(same(piece.dataset.line)));
  },
  point(event) {
    const at = [...this.$refs.lines.children].find((row) => { const box = row.getBoundingClientRect(); return event.clientY >= box.top && event.clientY < box.bottom; });
    this.mark(at ? at.textContent.trim() : "");
  },
  light(event) { this.mark(event.target.dataset.line || ""); },
  leave() { this.mark(""); },
  // Doubts are lines of the text: each can be gone to, and dismissed.
  listDoubts() {
    const lines = this.rows().map((words, at) => ({ words, at })).filter((line) => /^\s*#\s*\?/.test(line.words));
    const make = (tag, given, children = []) => { const node = Object.assign(document.createElement(tag), given); node.append(...children); return node; };
    const row = ({ words, at }) => {
      const go = make("button", { type: "button", className: "doubt-words", textContent: words.replace(/^\s*#\s*\?\s*/, "") });
      go.addEventListener("click", () => this.select(at));
      const drop = make("button", { type: "button", className: "btn btn-sm btn-outline-secondary", textContent: "Dismiss" });
      drop.addEventListener("click", () => this.dismiss(at));
      return make("li", {}, [go, drop]);
    };
    const doubts = this.$refs.doubts;
    doubts.hidden = !lines.length;
    const count = lines.length === 1 ? "One doubt" : `${lines.length} doubts`;
    const head = make("p", { textContent: `${count}: correct the line, or dismiss it if it changes nothing. It can be saved as it is; nobody is planned before.` });
    doubts.replaceChildren(...(lines.length ? [head, make("ol", {}, lines.map(row))] : []));
  },
  select(at) {
    const before = this.rows().slice(0, at).join("\n").length + (at ? 1 : 0);
    this.$refs.text.focus();
    this.$refs.text.setSelectionRange(before, before + this.rows()[at].length);
  },
  dismiss(at) {
    this.select(at);
    const text = this.$refs.text;
    const last = at === this.rows().length - 1;
    text.setSelectionRange(Math.max(0, text.selectionStart - (last ? 1 : 0)), text.selectionEnd + (last ? 0 : 1));
    document.execCommand("delete");
    this.check();
  },
  // The words of a movement name before the caret, and the names that go on from them.
  offers() {
    const text = this.$refs.text;
    const line = text.value.slice(0, text.selectionStart).split("\n").pop();
    const typed = (line.match(/^\s*(?:\d+\s+|n\s+)?([a-z][a-z&' -]*)$/i) || [])[1];
    if (!typed || typed.length < 2 || /^(for|amrap|rest|reps|ladder|then|windows|stage|tie)/i.test(typed)) return [];
    const low = typed.toLowerCase();
    const fits = this.names.filter((n) => n.includes(low) && n !== low).sort((a, b) => a.indexOf(low) - b.indexOf(low));
    return fits.slice(0, 5).map((name) => ({ name, typed }));
  },
  suggest() {
    this.grow();
    const make = (offer) => {
      const button = Object.assign(document.createElement("button"), { type: "button", className: "suggestion", textContent: offer.name });
      button.addEventListener("click", () => this.take(offer));
      return button;
    };
    this.$refs.names.replaceChildren(...this.offers().map(make));
  },
  take(offer) {
    const text = this.$refs.text;
    text.focus();
    text.setSelectionRange(text.selectionStart - offer.typed.length, text.selectionStart);
    document.execCommand("insertText", false, offer.name);
    this.$refs.names.replaceChildren();
  },
  complete(event) {
    if (event.key !== "Tab" || event.shiftKey || !this.$refs.names.children.length) return;
    const [offer] = this.offers();
    if (!offer) return;
    event.preventDefault();
    this.take(offer);
  },
  // A paste over the untouched starter replaces it; prose is recognised and read at once.
  pasted() {
    this.paste = true;
    if (!this.$root.dataset.saved && this.$refs.text.value === this.$refs.text.defaultValue) this.$refs.text.select();
  },
  async understand() {
    const prose = this.$refs.text.value;
    const answer = await this.send(this.$root.dataset.announcement, new FormData(this.$refs.form));
    if (!answer || !answer.ok) return;
    this.$refs.source.value = prose;
    this.$refs.words.innerHTML = answer.data.html;
    this.$refs.published.hidden = false;
    this.$refs.text.focus();
    this.$refs.text.select();
    document.execCommand("insertText", false, answer.data.text);
    this.check();
  },
  forecast() {
    clearTimeout(this.later);
    this.later = setTimeout(async () => {
      const response = await fetch(this.$root.dataset.prospects, { method: "POST", body: new FormData(this.$refs.form), headers: { "X-CSRFToken": token() } });
      const data = await response.json();
      if (response.ok) this.$refs.prospects.innerHTML = data.html;
      else this.$refs.prospects.replaceChildren(Object.assign(document.createElement("p"), { className: "quiet", textContent: `Who gets where: ${data.error}.` }));
    }, 500);
  },
  async check() {
    const answer = await this.send(this.$root.dataset.url, new FormData(this.$refs.form));
    if (!answer) return;
    const problem = this.$refs.problem;
    problem.hidden = answer.ok;
    this.$refs.out.classList.toggle("stale", !answer.ok);
    if (answer.ok) {
      this.$refs.out.innerHTML = answer.data.html;
      this.canonical = answer.data.canonical;
      this.forecast();
    } else {
      problem.textContent = answer.data.error;
    }
    this.$refs.tidy.disabled = !answer.ok;
    this.$refs.prose.hidden = answer.ok;
    this.number(answer.ok ? 0 : answer.data.line);
    const read = this.paste && !answer.ok && answer.data.prose;
    this.paste = false;
    if (read) await this.understand();
  },
  async tidy() {
    await this.check();
    if (!this.canonical) return;
    // Typed through the editor, so that the browser's own undo takes it back.
    this.$refs.text.focus();
    this.$refs.text.select();
    document.execCommand("insertText", false, this.canonical);
  },
  submit() { this.$refs.form.requestSubmit(); },
}));
