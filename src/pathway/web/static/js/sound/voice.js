// The one voice of the page: what sounds and how loud, kept in this browser; a guard against loud surprises.
const KEY = "sound";
const QUIET = 0.6; // at first: a plain mezzo-forte peaks about 20 dB under full scale
const FADE = 0.02; // s
const usual = { volume: QUIET, strings: true, click: true, countIn: true, alone: false, drone: "", plain: false };
let context = null;
let out = null;

function kept() {
  try { return JSON.parse(localStorage.getItem(KEY) ?? "{}"); } catch { return {}; }
}
export const wish = { ...usual, ...kept() };

export function set(name, value) {
  wish[name] = value;
  localStorage.setItem(KEY, JSON.stringify(wish));
  if (name === "volume" && out) out.gain.setTargetAtTime(value * value, context.currentTime, FADE);
}

export function voice() { // made by a press of the player's, never before
  if (!context) {
    context = new AudioContext();
    const guard = new DynamicsCompressorNode(context, { threshold: -9, knee: 6, ratio: 20, attack: 0.002, release: 0.12 });
    out = new GainNode(context, { gain: wish.volume * wish.volume });
    out.connect(guard).connect(context.destination);
  }
  if (context.state === "suspended") context.resume();
  return { context, out };
}

const fetched = new Map(); // the last sounds, by address
const MOST = 24;

export async function sound(address) { // → the sound and where it begins, in the time of the plan
  if (!fetched.has(address)) {
    const answer = await fetch(address, { headers: { "HX-Request": "true" } }).catch(() => {
      throw new Error("The server does not answer. Press again when it is back.");
    });
    if (!answer.ok) throw new Error((await answer.text()).replace(/<[^>]+>/g, " ").trim());
    const begins = Number(answer.headers.get("Begins"));
    fetched.set(address, { buffer: await voice().context.decodeAudioData(await answer.arrayBuffer()), begins });
    if (fetched.size > MOST) fetched.delete(fetched.keys().next().value);
  }
  return fetched.get(address);
}

export function play(buffer, at, into) { // at: on the clock of the context; a sound that is late begins inside
  const { context: clock, out: whole } = voice();
  const source = new AudioBufferSourceNode(clock, { buffer });
  const level = new GainNode(clock, { gain: 1 });
  source.connect(level).connect(into ?? whole);
  const late = Math.max(0, clock.currentTime + 0.005 - at);
  const begun = late < buffer.duration;
  if (begun) source.start(at + late, late);
  return {
    source,
    at,
    hush(when = clock.currentTime) {
      if (!begun) return; // what was never started cannot be stopped
      level.gain.setTargetAtTime(0, when, FADE / 3);
      source.stop(when + 2 * FADE);
    },
  };
}

export function click(at, first, into) { // a beat, on the clock of the context
  const { context } = voice();
  const tone = new OscillatorNode(context, { frequency: first ? 1320 : 880 });
  const level = new GainNode(context);
  level.gain.setValueAtTime(0.5, at);
  level.gain.exponentialRampToValueAtTime(0.001, at + 0.05);
  tone.connect(level).connect(into);
  tone.start(at);
  tone.stop(at + 0.06);
}
