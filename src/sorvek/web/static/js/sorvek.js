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
    },
  }));

  Alpine.data("reader", () => ({
    send: latest(),
    canonical: "",
    async check() {
      const answer = await this.send(this.$root.dataset.url, new FormData(this.$refs.form));
      if (!answer) return;
      const problem = this.$refs.problem;
      problem.hidden = answer.ok;
      this.$refs.out.classList.toggle("stale", !answer.ok);
      if (answer.ok) {
        this.$refs.out.innerHTML = answer.data.html;
        this.canonical = answer.data.canonical;
      } else {
        problem.textContent = answer.data.error;
      }
      this.$refs.tidy.disabled = !answer.ok;
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
