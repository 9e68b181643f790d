// Place: lanes, dragging, the progress of a batch.
import { component, plainKey } from "./tools.js";

component("placer", () => ({
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
