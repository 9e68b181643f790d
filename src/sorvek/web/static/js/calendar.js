// Calendar: a try is dragged to another heat, or picked with one click (or Enter) and put down with the next.
import { component } from "./tools.js";
import { token } from "./heat.js";

component("searching", () => ({
  init() { setTimeout(() => this.ask(), 700); },
  async ask() {
    try {
      const data = await (await fetch(this.$root.dataset.url)).json();
      if (data.done) { location.reload(); return; }
      this.$refs.told.textContent = `${data.placed} of ${data.total} tries placed; looking for better ones…`;
    } catch (e) { this.$refs.told.textContent = "No answer from the server; asking again…"; }
    setTimeout(() => this.ask(), 700);
  },
}));

component("calendar", () => ({
  key: "",
  init() {
    this.$root.addEventListener("dragstart", (event) => {
      const chip = event.target.closest(".cal-chip");
      if (chip) event.dataTransfer.setData("text/plain", chip.dataset.key);
    });
    this.$root.addEventListener("dragover", (event) => { if (event.target.closest(".cal-heat")) event.preventDefault(); });
    this.$root.addEventListener("drop", (event) => {
      const heat = event.target.closest(".cal-heat");
      if (!heat) return;
      event.preventDefault();
      this.put(event.dataTransfer.getData("text/plain"), heat.dataset.number);
    });
  },
  press(event) {
    const chip = event.target.closest(".cal-pick");
    const here = event.target.closest(".cal-here");
    if (chip) this.pick(chip.closest(".cal-chip"));
    else if (here && this.key) this.put(this.key, here.closest(".cal-heat").dataset.number);
  },
  pick(chip) {
    this.key = chip.dataset.key;
    this.$root.querySelectorAll(".cal-chip").forEach((one) => one.classList.toggle("cal-held", one === chip));
    this.$refs.picked.hidden = false;
    this.$refs.picked.textContent = `${chip.querySelector("button").textContent.trim()}: press the time of the heat to move to, or Esc.`;
  },
  drop() {
    this.key = "";
    this.$root.querySelectorAll(".cal-held").forEach((one) => one.classList.remove("cal-held"));
    this.$refs.picked.hidden = true;
  },
  put(key, number) {
    if (!/^\d+\/\d+\/[01]$/.test(key)) return;
    const form = document.createElement("form");
    form.method = "post";
    form.action = this.$root.dataset.move.replace("0/0/0/0", `${key}/${number}`);
    const field = document.createElement("input");
    field.name = "csrf_token";
    field.value = token();
    form.append(field);
    document.body.append(form);
    form.submit();
  },
}));
