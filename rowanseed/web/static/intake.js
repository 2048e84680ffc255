// What was read of a file: pieces on the drawing and rows of the form belong together; pages can be dragged to their places.
document.addEventListener("DOMContentLoaded", () => {
  const form = document.querySelector("[data-review]"), svg = document.querySelector(".intake-sheet");
  if (!form || !svg) return;
  const rows = (at) => [...form.querySelectorAll(`[data-row="${at}"]`)];
  const drawn = (at) => svg.querySelector(`[data-piece="${at}"]`);
  const show = (at) => {
    const taken = form.elements[`take-${at}`].checked;
    rows(at).forEach((row) => row.classList.toggle("left-out", !taken));
    drawn(at).classList.toggle("left-out", !taken);
    drawn(at).setAttribute("aria-checked", taken);
  };
  const mark = (at) => {
    svg.querySelectorAll(".proposed.on").forEach((other) => other.classList.remove("on"));
    form.querySelectorAll("tr.on").forEach((other) => other.classList.remove("on"));
    if (at === null) return;
    drawn(at).classList.add("on");
    rows(at).forEach((row) => row.classList.add("on"));
  };
  const flip = (at) => { const box = form.elements[`take-${at}`]; box.checked = !box.checked; show(at); mark(at); };
  // Marks: left out or taken again, by a click or by keys; what is left out stands in the piece's row.
  const WORDS = { seam: "seam line", grain: "grain", fold: "fold", notch: "notch", dot: "dot", inner: "inner line" };
  const left = (at) => form.elements[`left-${at}`];
  const told = (at) => {
    const gone = left(at).value.split(" ").filter(Boolean);
    drawn(at).querySelectorAll("[data-mark]").forEach((one) => one.classList.toggle("off", gone.includes(one.dataset.mark)));
    const counts = {};
    gone.forEach((name) => { const word = WORDS[name.split(":")[0]]; counts[word] = (counts[word] || 0) + 1; });
    const words = Object.entries(counts).map(([word, n]) => (n > 1 ? `${n} × ${word}` : word)).join(", ");
    rows(at)[1].querySelector("[data-left-words]").textContent = words ? `Left out: ${words}.` : "";
  };
  const turn = (at, name) => {
    const gone = left(at).value.split(" ").filter(Boolean);
    left(at).value = (gone.includes(name) ? gone.filter((other) => other !== name) : [...gone, name]).join(" ");
    told(at);
  };
  const walk = (piece, by) => {
    const marks = [...piece.querySelectorAll("[data-mark]")];
    if (!marks.length) return;
    const now = marks.findIndex((one) => one.classList.contains("here"));
    marks.forEach((one) => one.classList.remove("here"));
    marks[(now + by + marks.length + (now < 0 && by < 0 ? 1 : 0)) % marks.length].classList.add("here");
  };
  svg.querySelectorAll(".proposed").forEach((piece) => {
    const at = piece.dataset.piece;
    piece.querySelectorAll("[data-mark]").forEach((one) => one.addEventListener("click", (event) => {
      event.stopPropagation(); turn(at, one.dataset.mark); mark(at);
    }));
    piece.addEventListener("keydown", (event) => {
      const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
      const here = piece.querySelector(".here");
      if (by) { event.preventDefault(); walk(piece, by); }
      if ((event.key === "Delete" || event.key === "Backspace") && here) { event.preventDefault(); turn(at, here.dataset.mark); }
    });
    told(at);
    piece.addEventListener("click", () => { flip(at); rows(at)[0].scrollIntoView({ block: "nearest" }); });
    piece.addEventListener("focus", () => mark(at));
    piece.addEventListener("keydown", (event) => {
      if (event.key === " ") { event.preventDefault(); flip(at); }
      if (event.key === "Enter") { event.preventDefault(); form.elements[`name-${at}`].focus(); }
    });
    show(at);
  });
  form.addEventListener("focusin", (event) => mark(event.target.closest("[data-row]")?.dataset.row ?? null));
  form.addEventListener("change", (event) => {
    const found = /^take-(\d+)$/.exec(event.target.name || "");
    if (found) show(found[1]);
  });

  // Pages: dragged, or moved by keys; their places go along when the file is read again.
  const again = document.querySelector("[data-again]");
  const pages = [...svg.querySelectorAll(".intake-page")];
  const places = new Map(pages.map((page) => [page, [Number(page.dataset.x), Number(page.dataset.y)]]));
  const put = (page, x, y) => {
    places.set(page, [x, y]);
    page.setAttribute("transform", `translate(${x - Number(page.dataset.x)} ${y - Number(page.dataset.y)})`);
    const all = pages.map((other) => [Number(other.dataset.page), ...places.get(other).map((v) => Math.round(v * 100) / 100)]);
    again.querySelector("[data-places]").value = JSON.stringify(all);
    again.closest("details").open = true;
  };
  const point = (event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  pages.forEach((page) => {
    page.addEventListener("pointerdown", (event) => {
      const from = point(event), start = places.get(page);
      page.setPointerCapture(event.pointerId);
      const move = (moved) => { const to = point(moved); put(page, start[0] + to.x - from.x, start[1] + to.y - from.y); };
      const drop = () => { page.removeEventListener("pointermove", move); page.removeEventListener("pointerup", drop); };
      page.addEventListener("pointermove", move);
      page.addEventListener("pointerup", drop);
    });
    page.addEventListener("keydown", (event) => {
      const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      if (!by) return;
      event.preventDefault();
      const step = event.shiftKey ? 10 : 1, [x, y] = places.get(page);
      put(page, x + step * by[0], y + step * by[1]);
    });
  });
});
