// On every page: light and dark, the list of keys, keys that lead to pages, parts that come later.
import { component, plainKey } from "./tools.js";

component("shell", () => ({
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
    if (event.key === "v") location.assign("/movements/");
    if (event.key === "f") location.assign("/field/");
  },
}));

// Keys that lead to a page: the address stands in data-<key>.
component("links", () => ({
  key(event) {
    const url = plainKey(event) && this.$root.dataset[event.key];
    if (url) location.assign(url);
  },
}));

component("sender", () => ({
  send(event) { event.target.closest("form").requestSubmit(); },
}));

// A part of a page that takes a moment to work out.
component("later", () => ({
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
