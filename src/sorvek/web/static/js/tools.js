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
