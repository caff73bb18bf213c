let sound: AudioContext | null = null

/** Two falling tones, and a buzz where the device can. A page nobody has touched yet may not sound. */
export function ring() {
  if (localStorage.getItem('sound') === 'off') return
  if (navigator.userActivation?.hasBeenActive) navigator.vibrate?.([300, 150, 300])
  sound ??= new AudioContext()
  if (sound.state === 'suspended') void sound.resume().catch(() => {})
  const start = sound.currentTime
  for (const [i, pitch] of [880, 660].entries()) {
    const tone = sound.createOscillator()
    const loud = sound.createGain()
    tone.frequency.value = pitch
    loud.gain.setValueAtTime(0.0001, start + i * 0.35)
    loud.gain.exponentialRampToValueAtTime(0.4, start + i * 0.35 + 0.03)
    loud.gain.exponentialRampToValueAtTime(0.0001, start + i * 0.35 + 0.3)
    tone.connect(loud).connect(sound.destination)
    tone.start(start + i * 0.35)
    tone.stop(start + i * 0.35 + 0.32)
  }
}
