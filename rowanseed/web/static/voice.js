// Reads a step out where that was switched on: with a voice that is on this device, never one that a server speaks with.
(() => {
  const root = document.documentElement;
  const words = () => Array.from(document.querySelectorAll("[data-say]"), (part) => part.textContent.trim().replace(/\s+/g, " "));
  const own = () => {
    const voices = window.speechSynthesis ? speechSynthesis.getVoices().filter((voice) => voice.localService) : [];
    return voices.find((voice) => voice.lang.startsWith(root.lang)) || voices[0];
  };
  const told = document.querySelector("[data-voice-words]");
  const say = () => {
    if (!window.speechSynthesis) return;
    speechSynthesis.cancel();
    const on = root.dataset.voice === "on", voice = own();
    if (told) told.hidden = !on || Boolean(voice);
    if (!on || !voice) return;
    words().forEach((text) => {
      const part = new SpeechSynthesisUtterance(text);
      part.voice = voice;
      part.rate = 0.95;
      speechSynthesis.speak(part);
    });
  };
  root.addEventListener("voice", say);
  if (window.speechSynthesis) speechSynthesis.addEventListener("voiceschanged", say, { once: true });
  window.addEventListener("pagehide", () => window.speechSynthesis && speechSynthesis.cancel());
  say();
})();
