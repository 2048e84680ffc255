// Daylight, lamp or dark: as this device's system says, or as was chosen on it. Runs before the page is drawn, so nothing flashes.
(() => {
  const system = window.matchMedia("(prefers-color-scheme: dark)");
  const chosen = () => { try { return localStorage.getItem("light") || ""; } catch { return ""; } };
  const show = () => { document.documentElement.dataset.bsTheme = chosen() || (system.matches ? "dark" : "light"); };
  show();
  system.addEventListener("change", show);
  document.addEventListener("DOMContentLoaded", () => {
    document.querySelectorAll("[data-light]").forEach((list) => {
      list.value = chosen();
      list.addEventListener("change", () => {
        try { if (list.value) localStorage.setItem("light", list.value); else localStorage.removeItem("light"); } catch { /* this page only */ }
        document.documentElement.dataset.bsTheme = list.value || (system.matches ? "dark" : "light");
      });
    });
  });
})();
