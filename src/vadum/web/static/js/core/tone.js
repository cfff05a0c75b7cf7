// A short soft tone; the browser allows sound only after the hand has touched the page.
export function tone(audio, hertz, seconds = 0.05) {
  const source = audio.createOscillator(), volume = audio.createGain(), at = audio.currentTime;
  source.frequency.value = hertz;
  volume.gain.setValueAtTime(0.25, at);
  volume.gain.exponentialRampToValueAtTime(0.001, at + seconds);
  source.connect(volume).connect(audio.destination);
  source.start(at);
  source.stop(at + seconds + 0.01);
}

// Something is due: heard, and felt in a pocket or through gloves.
export function announce(audio) {
  tone(audio, 880, 0.3);
  navigator.vibrate?.(200);
}
