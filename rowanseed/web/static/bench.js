// A sum is found by any word of it: of its name, its fields or why it is worked out so.
(() => {
  document.addEventListener("input", (event) => {
    const field = event.target;
    if (!field.matches || !field.matches("[data-find-sum]")) return;
    const words = field.value.toLowerCase().split(/\s+/).filter(Boolean);
    const sums = [...document.querySelectorAll("[data-sum]")];
    sums.forEach((sum) => { sum.hidden = !words.every((word) => sum.dataset.sum.includes(word)); });
    document.querySelectorAll("[data-family]").forEach((family) => { family.hidden = !family.querySelector("[data-sum]:not([hidden])"); });
    const left = sums.filter((sum) => !sum.hidden).length;
    document.querySelector("[data-sums-told]").textContent = words.length ? `${left} of ${sums.length}` : "";
  });
})();
