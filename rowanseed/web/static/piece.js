// A piece is corrected on its drawing: what is clicked goes into the form below, in the piece's own coordinates.
document.addEventListener("DOMContentLoaded", () => {
  const root = document.querySelector("[data-piece-edit]");
  if (!root) return;
  const svg = root.querySelector("svg"), piece = svg.querySelector("[data-piece]"), form = root.querySelector("[data-change]");
  const live = root.querySelector("[data-live]"), cursorLayer = svg.querySelector("[data-cursor]");
  const WORDS = {
    edge: "Click two corners: the edge between them, the shorter way, gets a name.",
    notch: "Click where the notch stands on the edge.", mark: "Click where the mark lies.",
    line: "Click the line's points in order (a dart: leg, point, leg), then press Do it.",
    grain: "Click both ends of the grain arrow, the upper one first.", point: "Click a point, then where it should be.",
  };
  let kind = "edge", places = [], cursor = null;
  const field = (name) => form.elements[name];
  const choose = (next) => {
    kind = next;
    places = [];
    field("kind").value = kind;
    field("from").value = field("to").value = field("places").value = "";
    root.querySelectorAll("[data-kind]").forEach((b) => b.setAttribute("aria-pressed", b.dataset.kind === kind));
    form.querySelectorAll("[data-for]").forEach((f) => { f.hidden = !f.dataset.for.split(" ").includes(kind); });
    svg.querySelectorAll(".chosen").forEach((c) => c.classList.remove("chosen"));
    live.textContent = WORDS[kind];
    show();
  };
  const at = (event) => {
    const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(piece.getScreenCTM().inverse());
    return [Math.round(p.x * 10) / 10, Math.round(p.y * 10) / 10];
  };
  // The points of a line that is being set, in the drawing's own turned group.
  const show = () => {
    piece.querySelector("[data-setting]")?.remove();
    if (!places.length) return;
    const line = document.createElementNS("http://www.w3.org/2000/svg", "polyline");
    line.setAttribute("points", places.map((p) => p.join()).join(" "));
    line.setAttribute("class", "cross");
    line.setAttribute("data-setting", "");
    piece.append(line);
  };
  const corner = (element) => {
    const number = element.dataset.point;
    element.classList.add("chosen");
    if (kind === "edge" && field("from").value !== "" && field("to").value === "") {
      field("to").value = number;
      field("edge_name").focus();
      live.textContent = "Name the edge, then press Enter.";
      return;
    }
    svg.querySelectorAll(".chosen").forEach((c) => { if (c !== element) c.classList.remove("chosen"); });
    field("from").value = number;
    field("to").value = "";
    live.textContent = kind === "point" ? "Now click where it should be." : "Now the corner at its other end.";
  };
  const place = (p) => {
    places.push(p);
    if (kind === "line") {
      field("places").value = JSON.stringify(places);
      live.textContent = `${places.length} point${places.length === 1 ? "" : "s"}. Do it when all are set.`;
      show();
      return;
    }
    const needed = kind === "grain" ? 2 : 1;
    if (places.length > needed) places = [p];
    field("places").value = JSON.stringify(places);
    if (kind === "point" && field("from").value === "") { places = []; live.textContent = "Click the point first."; return; }
    if (places.length < needed) { live.textContent = "Now its other end."; return; }
    if (kind === "mark" && !field("mark_name").value) { field("mark_name").focus(); live.textContent = "Name the mark, then press Enter."; return; }
    form.requestSubmit();
  };
  root.querySelectorAll("[data-kind]").forEach((b) => b.addEventListener("click", () => choose(b.dataset.kind)));
  svg.addEventListener("click", (event) => {
    const point = event.target.closest("[data-point]");
    if (point && (kind === "edge" || (kind === "point" && field("from").value === ""))) { corner(point); return; }
    if (kind !== "edge") place(at(event));
  });
  svg.addEventListener("keydown", (event) => {
    const point = event.target.closest("[data-point]");
    if (point && (event.key === "Enter" || event.key === " ")) { event.preventDefault(); corner(point); return; }
    const by = { ArrowLeft: [0, 1], ArrowRight: [0, -1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
    const box = piece.getBBox();
    if (by) {
      event.preventDefault();
      const step = event.shiftKey ? 10 : 1;
      cursor = cursor || [box.x + box.width / 2, box.y + box.height / 2];
      cursor = [cursor[0] + by[0] * step, cursor[1] + by[1] * step];
      cursorLayer.setAttribute("transform", `translate(${-cursor[1]} ${cursor[0]})`);
      if (!cursorLayer.firstChild) {
        const cross = document.createElementNS("http://www.w3.org/2000/svg", "path"), r = Math.max(box.width, box.height) / 40;
        cross.setAttribute("d", `M${-r} 0h${2 * r}M0 ${-r}v${2 * r}`);
        cross.setAttribute("class", "cross");
        cursorLayer.append(cross);
      }
    } else if (event.key === " " && cursor && kind !== "edge") { event.preventDefault(); place(cursor.map((v) => Math.round(v * 10) / 10)); }
  });
  choose("edge");
});
