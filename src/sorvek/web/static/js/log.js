// Log: a set pressed on the lower tape opens its row among those that can be corrected.
import { component } from "./tools.js";

component("tapes", () => ({
  press(event) {
    const set = event.target.closest("[data-row]");
    const field = set && document.getElementById(`set-${set.dataset.row}`);
    if (!field) return;
    field.closest("details").open = true;
    field.focus();
    field.select();
  },
}));
