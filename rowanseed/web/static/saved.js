// A form that could not be saved: what is there now is fetched and shown beside what was typed; the form is sent on that page's
// version, so that saving it is meant.
(async () => {
  const form = document.querySelector("[data-typed-again]");
  const from = form && form.dataset.cameFrom;
  if (!from) return;
  const answer = await fetch(from, { headers: { Accept: "text/html" } });
  if (!answer.ok) return;
  const there = new DOMParser().parseFromString(await answer.text(), "text/html");
  const target = new URL(form.action, location.href).pathname;
  const named = (name) => [...there.querySelectorAll("form")].find((f) => new URL(f.getAttribute("action") || from, location.href).pathname === target && f.elements.namedItem(name));
  form.querySelectorAll("[data-field]").forEach((row) => {
    const source = named(row.dataset.field);
    const field = source && source.elements.namedItem(row.dataset.field);
    if (field && "value" in field) row.querySelector("td[data-there]").textContent = field.type === "checkbox" ? (field.checked ? "on" : "") : field.value;
  });
  form.querySelectorAll("[data-there]").forEach((cell) => { cell.hidden = false; });
  ["version", "seen"].forEach((name) => {
    const source = named(name);
    if (!source) return;
    const hidden = document.createElement("input");
    hidden.type = "hidden"; hidden.name = name; hidden.value = source.elements.namedItem(name).value;
    form.append(hidden);
  });
  form.querySelector("[data-save-typed]").hidden = false;
})();
