// A judge's phone: one lane. Works without network for as long as the page stays open; taps wait in the phone.
import { barText, clockText, heatClock, outbox } from "./heat.js";

const body = document.body;
const box = outbox(`sorvek-lane-${body.dataset.key}`);
const field = (name) => document.querySelector(`[data-field="${name}"]`);
const ask = document.querySelector(".ask");
let data = JSON.parse(body.dataset.first);
let told = {};
let hand = null;
let offline = false;

function say(name, text) {
  const cell = field(name);
  if (cell && cell.textContent !== String(text)) cell.textContent = text;
}

function draw() {
  const lane = data.lanes[0];
  const clock = heatClock(data, box.now());
  const now = bar();
  say("clock", clock === null ? "not started" : clockText(clock < 0 ? Math.floor(clock) : clock));
  const waiting = box.kept.unsent.length;
  say("waiting", waiting ? `${waiting} ${waiting === 1 ? "tap waits" : "taps wait"} for the network; what is shown is behind.` : "");
  body.classList.toggle("offline", waiting > 0);
  if (!lane) return;
  const wait = clock === null || !lane.rests_until_s ? 0 : lane.rests_until_s - clock;
  ["name", "set", "movement", "round", "so_far", "warn"].forEach((name) => say(name, lane[name]));
  say("plates", now ? `${now.plates} a side` : "");
  if (now) say("set", now.load);
  document.querySelectorAll("[data-when]").forEach((part) => { part.hidden = (part.dataset.when === "lift") !== Boolean(lane.lifting); });
  document.querySelectorAll("[data-bar]").forEach((button) => { button.textContent = lane.lifting ? button.dataset.bar : button.dataset.work; });
  say("call", wait > 0.5 ? `rest ${clockText(wait)}` : lane.call);
  ask.hidden = !lane.asked;
  if (lane.asked) say("asked", told[lane.asked.of] ?? lane.asked.reps);
}

// The bar that is called: after taps that still wait here, what follows from them; or as it was set by hand.
function bar() {
  const lane = data.lanes[0];
  if (!lane || !lane.bar) return null;
  const undone = new Set(box.kept.unsent.filter((tap) => tap.kind === "undo").map((tap) => tap.of));
  const waiting = box.kept.unsent.filter((tap) => (tap.kind === "made" || tap.kind === "missed") && !undone.has(tap.id));
  const called = waiting.reduce((at, tap) => (at ? at[tap.kind] : null), lane.bar);
  const like = called || lane.bar;
  if (hand && hand.after === box.kept.mine.length) return { ...like, load_kg: hand.load_kg, load: barText(hand.load_kg, like.load), plates: "as loaded" };
  return called || { ...like, plates: "set the load; nothing is known" };
}

async function send() {
  const answer = await box.send(body.dataset.send);
  if (answer) data = answer;
  if (answer !== undefined) offline = answer === null;
  draw();
}

function tap(kind) {
  // A phone that lost the network before the start cannot know; its taps go by their time later.
  if (data.started_s === null && !offline && kind !== "undo") return;
  const lane = data.lanes[0];
  if (lane && lane.lifting && kind !== "undo") {
    const attempt = { set: "made", broken: "missed" }[kind];
    if (!attempt || !bar()) return;
    box.add({ kind: attempt, load_kg: bar().load_kg });
    draw();
    send();
    return;
  }
  const of = kind === "undo" ? box.kept.mine[box.kept.mine.length - 1] || (lane && lane.last) : "";
  if (kind === "undo" && !of) return;
  box.add({ kind, of });
  draw();
  send();
}

document.addEventListener("click", (event) => {
  const button = event.target.closest("button");
  const lane = data.lanes[0];
  if (!button) return;
  if (button.dataset.kind) tap(button.dataset.kind);
  if (button.dataset.load && bar()) {
    hand = { after: box.kept.mine.length, load_kg: Math.max(1, bar().load_kg + Number(button.dataset.load) * lane.step_kg) };
    draw();
  }
  if (!lane || !lane.asked) return;
  const now = told[lane.asked.of] ?? lane.asked.reps;
  if (button.dataset.by) told[lane.asked.of] = Math.max(0, now + Number(button.dataset.by));
  if (button.dataset.told) { box.add({ kind: "reps", of: lane.asked.of, reps: now }); send(); }
  draw();
});

setInterval(draw, 250);
setInterval(send, 700);
draw();
send();
if ("wakeLock" in navigator) navigator.wakeLock.request("screen").catch(() => {});
