// Read: the notation as it is typed.
import { component, latest, token } from "./tools.js";

component("reader", () => ({
  send: latest(),
  canonical: "",
  later: 0,
  names: [],
  init() {
    this.names = JSON.parse(this.$root.dataset.names);
    this.number(0);
    this.forecast();
    // What was typed before this script arrived counts too.
    if (this.$refs.text.value !== this.$refs.text.defaultValue) this.check();
  },
  // Line numbers beside the text; the line with the problem is marked.
  number(wrong) {
    const count = this.$refs.text.value.split("\n").length;
    const line = (_, i) => Object.assign(document.createElement("span"), { textContent: i + 1, className: i + 1 === wrong ? "wrong" : "" });
    this.$refs.lines.replaceChildren(...Array.from({ length: count }, line));
    this.scroll();
  },
  scroll() { this.$refs.lines.scrollTop = this.$refs.text.scrollTop; },
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
  async understand() {
    const answer = await this.send(this.$root.dataset.announcement, new FormData(this.$refs.form));
    if (!answer || !answer.ok) return;
    this.$refs.text.focus();
    this.$refs.text.select();
    document.execCommand("insertText", false, answer.data.text);
    const doubts = this.$refs.doubts;
    doubts.hidden = !answer.data.doubts.length;
    doubts.replaceChildren(...answer.data.doubts.map((words) => Object.assign(document.createElement("li"), { textContent: `Not understood, ${words}` })));
    this.check();
  },
  forecast() {
    clearTimeout(this.later);
    this.later = setTimeout(async () => {
      const response = await fetch(this.$root.dataset.prospects, { method: "POST", body: new FormData(this.$refs.form), headers: { "X-CSRFToken": token() } });
      const data = await response.json();
      if (response.ok) this.$refs.prospects.innerHTML = data.html;
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
