// What the clock page and a judge's phone share: the server's time, taps that wait until they are stored.
const KEPT_EXCHANGES = 20;

export const token = () => document.querySelector("meta[name=csrf-token]").content;
const seconds = () => Date.now() / 1000;

// Ids are made here, once: without randomUUID, which plain HTTP does not offer.
export function newId() {
  const bytes = crypto.getRandomValues(new Uint8Array(12));
  return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}

export function clockText(s) {
  const whole = Math.floor(Math.abs(s));
  return `${s < 0 ? "−" : ""}${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

// A load in the words of another one: “82.5 kg” or “180 lb”.
export function barText(loadKg, like) {
  return like.endsWith("lb") ? `${Math.round(loadKg / 0.45359237)} lb` : `${Math.round(loadKg * 100) / 100} kg`;
}

export function tone(context) {
  const sound = context.createOscillator();
  const volume = context.createGain();
  volume.gain.setValueAtTime(0.3, context.currentTime);
  volume.gain.exponentialRampToValueAtTime(0.001, context.currentTime + 0.25);
  sound.frequency.value = 880;
  sound.connect(volume).connect(context.destination);
  sound.start();
  sound.stop(context.currentTime + 0.25);
}

// Taps in this browser that the server has not confirmed; they outlive a reload.
export function outbox(key) {
  const read = () => { try { return JSON.parse(localStorage.getItem(key)) || {}; } catch (e) { return {}; } };
  const kept = { device: newId(), unsent: [], mine: [], ...read() };
  const exchanges = [];
  const keep = () => { try { localStorage.setItem(key, JSON.stringify(kept)); } catch (e) { /* private mode: kept in memory only */ } };
  keep();
  let busy = false;
  return {
    kept,
    add(tap) {
      const whole = { id: newId(), made_s: seconds(), ...tap };
      kept.unsent.push(whole);
      if (whole.kind === "undo") kept.mine = kept.mine.filter((id) => id !== whole.of);
      else if (whole.kind !== "reps") kept.mine = [...kept.mine, whole.id].slice(-50);
      keep();
      return whole;
    },
    // Sends what waits and returns the server's answer: null without one, undefined while another sending is out.
    async send(url) {
      if (busy) return undefined;
      busy = true;
      const asked = seconds();
      const taps = kept.unsent.slice(0, 200);
      try {
        const response = await fetch(url, {
          method: "POST",
          headers: { "Content-Type": "application/json", "X-CSRFToken": token() },
          body: JSON.stringify({ device: kept.device, asked_s: asked, exchanges, taps }),
        });
        if (!response.ok) return null;
        const data = await response.json();
        exchanges.push([asked, data.answered_s, seconds()]);
        exchanges.splice(0, exchanges.length - KEPT_EXCHANGES);
        const taken = new Set(data.taken || []);
        kept.unsent = kept.unsent.filter((tap) => !taken.has(tap.id));
        keep();
        return data;
      } catch (e) {
        return null;
      } finally {
        busy = false;
      }
    },
    // By how much the server is ahead: the exchange with the shortest way tells.
    ahead() {
      const best = exchanges.reduce((a, b) => (!a || b[2] - b[0] < a[2] - a[0] ? b : a), null);
      return best ? best[1] - (best[0] + best[2]) / 2 : 0;
    },
    now() { return seconds() + this.ahead(); },
  };
}

export function heatClock(data, now) {
  if (data.started_s === null) return null;
  const since = now - data.started_s;
  return since < 0 ? since : Math.min(data.ends_s || Infinity, data.speed * since);
}
