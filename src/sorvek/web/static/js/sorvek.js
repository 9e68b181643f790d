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

// Undo and redo for a component with state() and show(state): every state the fields have been in can be gone
// back to, whoever changed them: keys, pointer or typing.
function undoable() {
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

  // A part of a page that takes a moment to work out.
  Alpine.data("later", () => ({
    failed: false,
    async init() {
      try {
        const response = await fetch(this.$root.dataset.url);
        if (!response.ok) throw new Error(response.status);
        this.$root.innerHTML = await response.text();
      } catch (e) {
        this.$refs.wait.remove();
        this.failed = true;
      }
    },
  }));

  Alpine.data("copier", () => ({
    async copy(text, words) {
      try {
        await navigator.clipboard.writeText(text);
        this.$refs.said.textContent = words;
      } catch (e) {
        this.$refs.said.textContent = "The browser does not allow copying here; select and copy by hand.";
      }
    },
    copyText() { this.copy(this.$refs.text.textContent, "Text copied."); },
    copyLink() { this.copy(this.$refs.link.value, "Link copied."); },
  }));

  Alpine.data("placer", () => ({
    dragged: null,
    shown: 0,
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
        // The lanes are work for the server, whose cores are planning: often enough to see them fill.
        const now = performance.now();
        if (now - this.shown > 2000 && !this.$refs.board.contains(document.activeElement)) {
          this.shown = now;
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
    ...undoable(),
    chosen: null,
    drag: null,
    init() {
      if (!this.$refs.form) return;
      this.last = this.state();
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
      if (this.chosen) this.choose(this.chosen.segment, this.chosen.set);
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

  Alpine.data("lifter", () => ({
    send: latest(),
    ask: latest(),
    ...undoable(),
    init() {
      if (!this.$refs.form) return;
      this.last = this.state();
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
    async preview() {
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
    async compare() {
      const button = this.$refs.compare;
      if (!button) return;
      const words = button.textContent;
      button.disabled = true;
      button.textContent = "Trying efforts …";
      const answer = await this.ask(button.dataset.url, new FormData(this.$refs.form));
      button.disabled = false;
      button.textContent = words;
      if (answer && answer.ok) {
        this.$refs.advice.innerHTML = answer.data.html;
        this.$refs.advice.scrollIntoView({ block: "nearest" });
      }
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
});
