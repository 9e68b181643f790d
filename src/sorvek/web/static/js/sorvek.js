// The components of the pages, registered for Alpine's CSP build.
const token = () => document.querySelector("meta[name=csrf-token]").content;
const typing = (event) => /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName);
const plainKey = (event) => !(event.ctrlKey || event.metaKey || event.altKey || typing(event));

// Sends a form and drops every answer but the one to the latest request.
function latest() {
  let turn = 0;
  return async (url, body) => {
    const mine = ++turn;
    const response = await fetch(url, { method: "POST", body, headers: { "X-CSRFToken": token() } });
    const data = await response.json();
    return mine === turn ? { ok: response.ok, data } : null;
  };
}

document.addEventListener("alpine:init", () => {
  Alpine.data("shell", () => ({
    toggleTheme() {
      const root = document.documentElement;
      const next = root.getAttribute("data-bs-theme") === "dark" ? "light" : "dark";
      root.setAttribute("data-bs-theme", next);
      try { localStorage.setItem("theme", next); } catch (e) { /* private mode */ }
    },
    toggleHelp() {
      const help = this.$refs.help;
      help.open ? help.close() : help.showModal();
    },
    key(event) {
      if (!plainKey(event)) return;
      if (event.key === "?") this.toggleHelp();
      if (event.key === "t") this.toggleTheme();
      if (event.key === "w") location.assign("/");
      if (event.key === "r") location.assign("/roster/");
      if (event.key === "f") location.assign("/field/");
    },
  }));

  Alpine.data("reader", () => ({
    send: latest(),
    canonical: "",
    later: 0,
    names: [],
    init() {
      this.names = JSON.parse(this.$root.dataset.names);
      this.number(0);
      this.forecast();
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

  // Keys that lead to a page: the address stands in data-<key>.
  Alpine.data("links", () => ({
    key(event) {
      const url = plainKey(event) && this.$root.dataset[event.key];
      if (url) location.assign(url);
    },
  }));

  Alpine.data("sender", () => ({
    send(event) { event.target.closest("form").requestSubmit(); },
  }));

  Alpine.data("placer", () => ({
    dragged: null,
    init() {
      const board = this.$refs.board;
      board.addEventListener("dragstart", (e) => { this.dragged = e.target.closest(".lane-row"); });
      board.addEventListener("dragover", (e) => { if (this.laneOf(e)) e.preventDefault(); });
      board.addEventListener("drop", (e) => {
        const lane = this.laneOf(e);
        if (lane && this.dragged) this.move(this.dragged, lane.dataset.lane);
      });
      if (this.$root.dataset.running === "yes") this.poll();
    },
    laneOf(event) { return event.target.closest(".lane"); },
    move(row, tier) {
      const select = row.querySelector("select[name=tier]");
      const offered = Array.from(select.options).find((o) => o.text === tier);
      if (!offered) return;
      select.value = offered.value;
      select.form.requestSubmit();
    },
    submit(event) { event.target.form.requestSubmit(); },
    async poll() {
      const state = await (await fetch(this.$root.dataset.progress)).json();
      const done = `${state.done} of ${state.total} plans`;
      this.$refs.job.hidden = false;
      this.$refs.bar.max = state.total;
      this.$refs.bar.value = state.done;
      this.$refs.failed.hidden = !state.failed.length;
      this.$refs.failed.replaceChildren(...state.failed.map((text) => Object.assign(document.createElement("li"), { textContent: text })));
      if (this.$refs.count.textContent !== done || !state.running) {
        this.$refs.count.textContent = done;
        if (!this.$refs.board.contains(document.activeElement)) {
          this.$refs.board.innerHTML = await (await fetch(this.$root.dataset.lanes)).text();
        }
      }
      if (state.running) setTimeout(() => this.poll(), 400);
      else location.reload();
    },
    key(event) {
      const row = event.target.closest ? event.target.closest(".lane-row") : null;
      if (row && event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
        event.preventDefault();
        const lanes = Array.from(this.$refs.board.querySelectorAll(".lane"));
        const at = lanes.indexOf(row.closest(".lane")) + (event.key === "ArrowUp" ? -1 : 1);
        if (lanes[at]) this.move(row, lanes[at].dataset.lane);
      } else if (row === event.target && event.key === "Enter") {
        location.assign(row.dataset.open);
      } else if (plainKey(event) && event.key === "p") {
        this.$refs.plan.requestSubmit();
      }
    },
  }));

  Alpine.data("breaker", () => ({
    send: latest(),
    ask: latest(),
    inputs() { return Array.from(this.$refs.form.querySelectorAll("input[data-computed]")); },
    async preview() {
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
      this.$root.dataset.redrawMs = (performance.now() - begun).toFixed(1);
    },
    async compare() {
      const button = this.$refs.compare;
      const words = button.textContent;
      button.disabled = true;
      button.textContent = "Trying nine schools …";
      const answer = await this.ask(button.dataset.url, new FormData(this.$refs.form));
      button.disabled = false;
      button.textContent = words;
      if (answer && answer.ok) {
        this.$refs.advice.innerHTML = answer.data.html;
        this.$refs.advice.scrollIntoView({ block: "nearest" });
      }
    },
    computed() {
      this.inputs().forEach((input) => { input.value = input.dataset.computed; });
      this.preview();
    },
    restore(event) {
      event.target.value = event.target.defaultValue;
      this.preview();
    },
    key(event) {
      if (!plainKey(event)) return;
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
});
