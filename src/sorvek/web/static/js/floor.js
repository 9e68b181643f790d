// Floor: the clock page. Lanes are fixed in place; only their texts change.
import { component, plainKey } from "./tools.js";
import { barText, clockText, heatClock, outbox, token, tone } from "./heat.js";

const POLL_MS = 500;
const DRAW_MS = 200;
const BEEP_S = 3;

component("floor", () => ({
  data: null,
  pending: "",
  taps: [],
  told: {},
  set: {},
  problem: "",
  sound: null,
  beeped: {},
  init() {
    this.box = outbox(`sorvek-floor-${location.pathname}`);
    this.show(JSON.parse(this.$root.dataset.first));
    this.poll();
    setInterval(() => this.tick(), DRAW_MS);
    this.stayAwake();
  },
  async stayAwake() {
    if (!("wakeLock" in navigator)) return;
    try { await navigator.wakeLock.request("screen"); } catch (e) { /* the browser may refuse */ }
  },
  async poll() {
    const data = await this.box.send(this.$root.dataset.taps);
    if (data) this.show(data);
    const waiting = this.box.kept.unsent.length;
    if (data !== undefined) this.note(data ? this.problem : `No answer from the server${waiting ? `: ${waiting} ${waiting === 1 ? "tap waits" : "taps wait"} here` : "; taps will wait here"}.`);
    if (data) this.$refs.over.hidden = !data.over;
    setTimeout(() => this.poll(), POLL_MS);
  },
  note(text) {
    if (this.$refs.note.textContent !== text) this.$refs.note.textContent = text;
  },
  lane(number) { return this.$root.querySelector(`.floor-lane[data-lane="${number}"]`); },
  show(data) {
    this.data = data;
    data.lanes.forEach((lane) => {
      const row = this.lane(lane.lane);
      if (!row) return;
      const bar = lane.bar ? this.bar(lane) : null;
      const texts = { ...lane, forecast: lane.forecast || (lane.finished ? "done" : ""), asked: lane.asked ? this.asked(lane) : "", bar: bar ? bar.load : "" };
      if (bar) texts.set = bar.load;
      row.querySelectorAll("[data-field]").forEach((cell) => {
        const text = String(texts[cell.dataset.field] ?? "");
        if (cell.textContent !== text) cell.textContent = text;
      });
      row.classList.toggle("floor-late", lane.late);
      row.classList.toggle("floor-done", lane.finished);
      row.querySelectorAll(".floor-acts").forEach((acts) => { acts.hidden = acts.dataset.when === "lift" ? !lane.bar : Boolean(lane.lifting); });
      row.querySelector(".floor-ask").hidden = !lane.asked;
      row.querySelector(".floor-better").hidden = !lane.better;
    });
    this.tick();
  },
  // The bar as called, or as the coach set it for this attempt.
  bar(lane) {
    const set = this.set[lane.lane];
    return set && set.called === lane.bar.load_kg ? { ...lane.bar, load_kg: set.load_kg, load: barText(set.load_kg, lane.bar.load), plates: "as loaded" } : lane.bar;
  },
  load(lane, by) {
    if (!lane.bar) return;
    this.set[lane.lane] = { called: lane.bar.load_kg, load_kg: Math.max(1, this.bar(lane).load_kg + by * lane.step_kg) };
    this.show(this.data);
  },
  asked(lane) { return this.told[lane.asked.of] ?? lane.asked.reps; },
  tick() {
    const clock = heatClock(this.data, this.box.now());
    this.$refs.clock.textContent = clock === null ? "0:00" : clockText(clock < 0 ? Math.floor(clock) : clock);
    this.$refs.clock.classList.toggle("floor-counting", clock !== null && clock < 0);
    const start = this.$refs.start;
    start.hidden = clock !== null && clock >= 0;
    start.textContent = clock === null ? "Start in 10 s" : "Stop the countdown";
    this.data.lanes.forEach((lane) => {
      const row = this.lane(lane.lane);
      const call = row?.querySelector(".floor-call b");
      const wait = clock === null || !lane.rests_until_s ? 0 : lane.rests_until_s - clock;
      const text = wait > 0.5 ? `rest ${clockText(wait)}` : lane.call;
      if (call && call.textContent !== text) call.textContent = text;
      const left = clock === null || clock < 0 || !lane.set_ends_s || wait > 0.5 ? 0 : lane.set_ends_s - clock;
      const until = row?.querySelector(".floor-until");
      const told = lane.bar ? `${this.bar(lane).plates} a side` : left > 0.5 ? `${lane.ends_with} in ${Math.ceil(left)} s` : "";
      if (until && until.textContent !== told) until.textContent = told;
      this.beep(lane, left);
    });
  },
  // A tone a moment before each planned break, once; off until somebody wants it.
  beep(lane, left) {
    const due = lane.set_ends_s && lane.ends_with === "break" && left > 0 && left < BEEP_S ? lane.set_ends_s : 0;
    if (this.sound && due && this.beeped[lane.lane] !== due) tone(this.sound);
    if (due) this.beeped[lane.lane] = due;
  },
  toggleSound() {
    this.sound = this.sound ? null : new AudioContext();
    this.$refs.sound.firstChild.textContent = this.sound ? "Sound on " : "Sound off ";
    this.$refs.sound.setAttribute("aria-pressed", String(Boolean(this.sound)));
  },
  tap(number, kind, more = {}) {
    const lane = this.data.lanes.find((one) => one.lane === number);
    if (!lane || this.data.started_s === null) return;
    const attempt = lane.lifting && { set: "made", broken: "missed", failed: "missed", made: "made", missed: "missed" }[kind];
    if (lane.lifting && kind !== "undo" && (!attempt || !lane.bar)) return;
    const made = this.box.add(attempt ? { lane: number, kind: attempt, load_kg: this.bar(lane).load_kg } : { lane: number, kind, ...more });
    if (kind !== "undo" && kind !== "reps") this.taps.push({ lane: number, id: made.id });
    this.box.send(this.$root.dataset.taps).then((data) => data && this.show(data));
  },
  // The last tap made here, else the last of the only lane that has one.
  undo() {
    const last = this.taps.pop();
    const lane = last || this.data.lanes.filter((one) => one.last).map((one) => ({ lane: one.lane, id: one.last })).pop();
    if (lane) this.tap(lane.lane, "undo", { of: lane.id });
  },
  async start() {
    const response = await fetch(this.$root.dataset.start, { method: "POST", headers: { "X-CSRFToken": token() } });
    if (response.ok) this.show(await response.json());
  },
  async better(number) {
    const url = this.$root.dataset.better.replace(/0$/, number);
    const response = await fetch(url, { method: "POST", headers: { "X-CSRFToken": token() } });
    const data = await response.json();
    if (response.ok) this.show(data); else this.note(this.problem = data.problem);
  },
  act(kind, number) {
    this.problem = "";
    const lane = number && this.data.lanes.find((one) => one.lane === number);
    const acts = {
      start: () => this.start(),
      undo: () => this.undo(),
      big: () => this.big(),
      better: () => this.better(number),
      fewer: () => this.count(lane, -1),
      more: () => this.count(lane, 1),
      lighter: () => this.load(lane, -1),
      heavier: () => this.load(lane, 1),
      sound: () => this.toggleSound(),
      told: () => this.tap(number, "reps", { of: lane.asked.of, reps: this.asked(lane) }),
    };
    acts[kind] ? acts[kind]() : this.tap(number, kind);
  },
  count(lane, by) {
    this.told[lane.asked.of] = Math.max(0, this.asked(lane) + by);
    this.show(this.data);
  },
  big() {
    const on = document.documentElement.classList.toggle("floor-big");
    const change = on ? document.documentElement.requestFullscreen : document.exitFullscreen;
    if (change && on !== Boolean(document.fullscreenElement)) change.call(on ? document.documentElement : document).catch(() => {});
  },
  press(event) {
    const button = event.target.closest("[data-act]");
    if (!button) return;
    const lane = button.closest(".floor-lane");
    this.act(button.dataset.act, lane ? Number(lane.dataset.lane) : 0);
    button.blur();
  },
  key(event) {
    if (event.key === "Escape") document.documentElement.classList.remove("floor-big");
    if (!plainKey(event)) return;
    const digit = /^Digit([0-9])$/.exec(event.code);
    if (digit) {
      event.preventDefault();
      const number = Number(digit[1]) || 10;
      const kind = this.pending || (event.shiftKey ? "round" : "set");
      this.pending = "";
      this.act(kind, number);
      return;
    }
    this.pending = { b: "broken", n: "no-rep", m: "failed", p: "better" }[event.key] || "";
    if (event.key === "u") this.undo();
    if (event.key === "g") this.big();
    if (event.key === "s") this.toggleSound();
    if (event.key === " " && event.target.tagName !== "BUTTON") { event.preventDefault(); this.start(); }
  },
}));
