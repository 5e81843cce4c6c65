let context: AudioContext | undefined;

/** A bell from three sines, where the page may sound: only after a key or a click. */
export function ring(strength: number): void {
  if (!navigator.userActivation?.hasBeenActive) return;
  context ??= new AudioContext();
  const now = context.currentTime;
  [523, 1318, 2211].forEach((frequency, i) => {
    const [tone, loud] = [context!.createOscillator(), context!.createGain()];
    tone.frequency.value = frequency;
    loud.gain.setValueAtTime((0.12 * strength) / (i + 1), now);
    loud.gain.exponentialRampToValueAtTime(0.0001, now + 2.4 / (i + 1));
    tone.connect(loud).connect(context!.destination);
    tone.start(now);
    tone.stop(now + 2.5);
  });
}
