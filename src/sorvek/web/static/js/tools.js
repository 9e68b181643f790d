// What the scripts of several pages use: keys, and forms sent one after the other.
export const token = () => document.querySelector("meta[name=csrf-token]").content;
const typing = (event) => /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName);
export const plainKey = (event) => !(event.ctrlKey || event.metaKey || event.altKey || typing(event));

// Sends a form and drops every answer but the one to the latest request.
export function latest() {
  let turn = 0;
  return async (url, body) => {
    const mine = ++turn;
    const response = await fetch(url, { method: "POST", body, headers: { "X-CSRFToken": token() } });
    const data = await response.json();
    return mine === turn ? { ok: response.ok, data } : null;
  };
}

// Names a component for Alpine's CSP build.
export function component(name, make) {
  document.addEventListener("alpine:init", () => window.Alpine.data(name, make));
}

// Asks for a comparison: the button says its data-busy text meanwhile, the answer becomes the page's advice.
export const comparing = () => ({
  ask: latest(),
  async compare() {
    const button = this.$refs.compare;
    if (!button) return;
    const words = button.textContent;
    button.disabled = true;
    button.textContent = button.dataset.busy;
    const answer = await this.ask(button.dataset.url, new FormData(this.$refs.form));
    button.disabled = false;
    button.textContent = words;
    if (answer && answer.ok) {
      this.$refs.advice.innerHTML = answer.data.html;
      this.$refs.advice.scrollIntoView({ block: "nearest" });
    }
  },
});
