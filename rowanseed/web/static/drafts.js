// A form for a new thing that was begun and left: what was typed stands there again when one comes back in this tab, until it is kept
// or begun anew. Passwords, files and what the page itself hides are never held.
// Only when the page's own scripts listen is it put back, so that they take it as typed.
addEventListener("load", () => {
  const NEW = /\/new$/;
  if (!NEW.test(location.pathname)) return;
  const PLACE = `rowanseed-draft:${location.pathname}${location.search}`;
  const form = [...document.querySelectorAll("main form[method=post]")].find((one) => new URL(one.action).pathname === location.pathname);
  if (!form) return;
  const fields = () => [...form.elements].filter((one) => one.name && !["hidden", "file", "password", "submit", "button"].includes(one.type));
  const value = (field) => (["checkbox", "radio"].includes(field.type) ? String(field.checked) : field.value);
  const key = (field, k) => `${k}:${field.name}:${field.type === "radio" ? field.value : ""}`;
  const begun = Object.fromEntries(fields().map((field, k) => [key(field, k), value(field)]));
  const put = (field, text) => {
    if (["checkbox", "radio"].includes(field.type)) field.checked = text === "true";
    else field.value = text;
  };

  const held = JSON.parse(sessionStorage.getItem(PLACE) || "null");
  const refused = form.querySelector("[aria-invalid=true]");  // the server shows what was typed itself
  if (held && !refused) {
    const changed = fields().filter((field, k) => key(field, k) in held && held[key(field, k)] !== value(field));
    const at = new Map(fields().map((field, k) => [field, key(field, k)]));
    changed.forEach((field) => { put(field, held[at.get(field)]); });
    changed.forEach((field) => {
      for (let fold = field.closest("details"); fold; fold = fold.parentElement.closest("details")) fold.open = true;
      field.dispatchEvent(new Event("input", { bubbles: true }));
      field.dispatchEvent(new Event("change", { bubbles: true }));
    });
    if (changed.length) {
      const told = document.createElement("p");
      told.className = "finding note";
      told.setAttribute("role", "status");
      told.append("What you had typed here stands here again. ");
      const anew = document.createElement("button");
      anew.type = "button"; anew.className = "btn btn-plain btn-sm"; anew.textContent = "Begin anew";
      anew.addEventListener("click", () => {
        fields().forEach((field, k) => { if (key(field, k) in begun) put(field, begun[key(field, k)]); });
        sessionStorage.removeItem(PLACE);
        told.remove();
      });
      told.append(anew);
      form.before(told);
    }
  }
  form.addEventListener("input", () => {
    sessionStorage.setItem(PLACE, JSON.stringify(Object.fromEntries(fields().map((field, k) => [key(field, k), value(field)]))));
  });
  form.addEventListener("submit", () => sessionStorage.removeItem(PLACE));
});
