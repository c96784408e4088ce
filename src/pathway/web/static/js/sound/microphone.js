// The microphone as it hears, without what devices like to change; samples come some thousand at a time.
import { voice } from "./voice.js";

const ASKED = { audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false, channelCount: 1 } };

export async function open(take) { // → how to close it, and whether the device keeps changing what it hears
  const { context } = voice();
  const stream = await navigator.mediaDevices.getUserMedia(ASKED);
  const { echoCancellation, noiseSuppression, autoGainControl } = stream.getAudioTracks()[0].getSettings();
  await context.audioWorklet.addModule(new URL("worklet.js", import.meta.url));
  const node = new AudioWorkletNode(context, "passing", { numberOfOutputs: 0 });
  context.createMediaStreamSource(stream).connect(node);
  node.port.onmessage = ({ data }) => take(data);
  return {
    rate: context.sampleRate,
    changes: Boolean(echoCancellation || noiseSuppression || autoGainControl),
    close() {
      for (const track of stream.getTracks()) track.stop();
      node.disconnect();
    },
  };
}

export const sixteenBits = (pieces) => new Int16Array(pieces.flatMap((piece) => [...piece]).map((sample) => Math.max(-1, Math.min(1, sample)) * 32767));
