import { deviceSettings } from './use-device.ts';

let audio: AudioContext | undefined;

/** Three short tones, where the device allows sound. A browser lets a page sound only after it was touched once. */
export function ring(): void {
  if (!deviceSettings().sound || typeof AudioContext === 'undefined') return;
  audio ??= new AudioContext();
  for (const [i, pitch] of [660, 880, 660].entries()) {
    const tone = audio.createOscillator();
    const loudness = audio.createGain();
    const at = audio.currentTime + i * 0.28;
    tone.frequency.value = pitch;
    loudness.gain.setValueAtTime(0.0001, at);
    loudness.gain.exponentialRampToValueAtTime(0.25, at + 0.03);
    loudness.gain.exponentialRampToValueAtTime(0.0001, at + 0.24);
    tone.connect(loudness).connect(audio.destination);
    tone.start(at);
    tone.stop(at + 0.25);
  }
}

/** A notice of the system, where it was allowed: plain http on a home network does not let a page show any. */
export function notify(words: string, tag: string): void {
  if (!deviceSettings().notify || typeof Notification === 'undefined' || Notification.permission !== 'granted') return;
  new Notification('Frugal Sip', { body: words, tag });
}
