// What is chosen on this device: daylight, lamp or dark; the working hand; whether steps are read out. Runs before the page is
// drawn, so nothing flashes.
(() => {
  const root = document.documentElement;
  const system = window.matchMedia("(prefers-color-scheme: dark)");
  const chosen = (what) => { try { return localStorage.getItem(what) || ""; } catch { return ""; } };
  const keep = (what, value) => {
    try { if (value) localStorage.setItem(what, value); else localStorage.removeItem(what); } catch { /* this page only */ }
  };
  const apply = {
    light: (value) => { root.dataset.bsTheme = value || (system.matches ? "dark" : "light"); },
    hand: (value) => { root.dataset.hand = value || "right"; },
    voice: (value) => { root.dataset.voice = value || "off"; root.dispatchEvent(new CustomEvent("voice")); },
  };
  const show = () => Object.keys(apply).forEach((what) => apply[what](chosen(what)));
  show();
  system.addEventListener("change", show);
  document.addEventListener("DOMContentLoaded", () => {
    document.querySelectorAll("[data-device]").forEach((list) => {
      const what = list.dataset.device;
      list.value = chosen(what);
      list.addEventListener("change", () => { keep(what, list.value); apply[what](list.value); });
    });
  });
})();
