// Tracing on a flat picture: clicks along a line, which the server follows; grain, fold, notches, dots; undo, a loupe, keys.
document.addEventListener("DOMContentLoaded", () => {
  const root = document.querySelector("[data-trace]");
  if (!root) return;
  const svg = root.querySelector("svg"), layer = root.querySelector("[data-layer]"), view = root.querySelector("[data-view]");
  const live = root.querySelector("[data-live]"), loupe = root.querySelector("[data-loupe]"), kept = document.querySelector("[data-drawn]");
  const wide = Number(root.dataset.wide), high = Number(root.dataset.high), perMm = 1 / Number(root.dataset.mm);
  const picture = svg.querySelector("image").getAttribute("href");
  const state = JSON.parse(kept.value || "{}");
  for (const key of ["clicks", "outline", "grain", "fold", "notches", "dots"]) state[key] ||= [];
  let mode = "line", past = [], zoom = 1, cursor = null, asked = 0;
  const PLACES = { line: "clicks", grain: "grain", fold: "fold", notch: "notches", dot: "dots" };
  const WORDS = {
    line: "Click the corners of your size's line in order; between them it is followed.",
    grain: "Click both ends of the grain arrow, the upper one first.", fold: "Click both ends of the fold edge.",
    notch: "Click each notch; a double notch twice.", dot: "Click each dot or mark.",
  };
  const say = (words, wrong = false) => { live.textContent = words; live.classList.toggle("wrong", wrong); };
  const save = () => { kept.value = JSON.stringify(state); };
  const make = (name, attributes) => {
    const element = document.createElementNS("http://www.w3.org/2000/svg", name);
    for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
    layer.append(element);
    return element;
  };
  const draw = () => {
    layer.replaceChildren();
    const unit = Math.max(wide, high) / 700 / zoom;
    if (state.outline.length) make("polygon", { class: "traced", points: state.outline.map((p) => p.join()).join(" "), "stroke-width": 2.2 * unit });
    // What else lies there: a press takes it in place of the one that was found.
    (state.others || []).forEach((other, k) => {
      const shape = make("polygon", { class: "other", points: other.outline.map((p) => p.join()).join(" "), "stroke-width": 1.6 * unit, "stroke-dasharray": `${8 * unit} ${5 * unit}`, tabindex: 0, role: "button", "aria-label": `Take piece ${k + 2}, ${size(other.outline)}` });
      const take = (event) => { event.stopPropagation(); event.preventDefault(); remember(); swap(k); };
      shape.addEventListener("click", take);
      shape.addEventListener("keydown", (event) => { if (event.key === "Enter" || event.key === " ") take(event); });
    });
    for (const part of state.unsure || []) make("polyline", { class: "unsure", points: part.map((p) => p.join()).join(" "), "stroke-width": 4 * unit, "stroke-dasharray": `${9 * unit} ${6 * unit}` });
    if (state.open) make("polyline", { class: "traced open", points: state.open.map((p) => p.join()).join(" "), "stroke-width": 2.2 * unit });
    for (const key of ["grain", "fold"]) {
      if (state[key].length === 2) make("polyline", { class: key, points: state[key].map((p) => p.join()).join(" "), "stroke-width": 3 * unit });
    }
    for (const key of ["clicks", "grain", "fold", "notches", "dots"]) {
      state[key].forEach((p, k) => {
        const dot = make("circle", { class: `spot ${key}`, cx: p[0], cy: p[1], r: 6 * unit, "stroke-width": 1.6 * unit });
        dot.addEventListener("pointerdown", (event) => grab(event, key, k));
      });
    }
    if (cursor) make("path", { class: "cross", d: `M${cursor[0] - 14 * unit} ${cursor[1]}h${28 * unit}M${cursor[0]} ${cursor[1] - 14 * unit}v${28 * unit}`, "stroke-width": 1.6 * unit });
    save();
  };
  const remember = () => { past.push(JSON.stringify(state)); if (past.length > 200) past.shift(); };
  const at = (event) => {
    const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    return [Math.round(p.x * 10) / 10, Math.round(p.y * 10) / 10];
  };
  // The server answers the newest question only; older answers are dropped.
  const ask = async (body) => {
    const mine = ++asked;
    say("Following the line …");
    const answer = await fetch(root.dataset.url, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) });
    if (mine !== asked) return null;
    const said = await answer.json();
    if (said.problem || !said.outline) { say(said.problem || "That could not be followed.", true); return null; }
    return said;
  };
  const follow = async (closed) => {
    if (state.clicks.length < (closed ? 3 : 2)) { state.open = null; draw(); say(WORDS.line); return; }
    const said = await ask({ clicks: state.clicks, closed });
    if (!said) return;
    state.unsure = [];
    if (closed) { state.outline = said.outline; state.open = null; say(`Closed: ${size(said.outline)}. Mark grain or fold, then keep it.`); }
    else { state.open = said.outline; state.outline = []; say(`${state.clicks.length} points. Close the line when you are round.`); }
    draw();
  };
  const size = (outline) => {
    const xs = outline.map((p) => p[0]), ys = outline.map((p) => p[1]);
    const cm = (values) => ((Math.max(...values) - Math.min(...values)) / perMm / 10).toFixed(1);
    return `${cm(xs)} by ${cm(ys)} cm`;
  };
  // What is taken brings its own doubts along: the stretches to be looked at, and what is said of them.
  const take = (found, word) => {
    Object.assign(state, { outline: found.outline, open: null, unsure: found.unsure, taken: found, clicks: found.corners.map((k) => found.outline[k]) });
    draw();
    const texts = (levels) => found.said.filter((f) => levels === (f.level !== "note")).map((f) => f.text).join(" ");
    const doubt = texts(true), count = state.others.length;
    const more = count ? ` ${count} more ${count === 1 ? "thing lies" : "things lie"} there: press its line to take it instead.` : "";
    say(`${word}: ${size(found.outline)}. ${doubt || texts(false)}${more}`, Boolean(doubt));
  };
  const swap = (k) => {
    const [other] = state.others.splice(k, 1, state.taken);
    take(other, "Taken");
  };
  const set = (place) => {
    const key = PLACES[mode];
    remember();
    if ((mode === "grain" || mode === "fold") && state[key].length === 2) state[key] = [];
    state[key].push(place);
    draw();
    if (mode === "line") follow(false); else say(WORDS[mode]);
  };
  const grab = (event, key, k) => {
    event.stopPropagation();
    event.preventDefault();
    remember();
    const move = (moved) => { state[key][k] = at(moved); look(moved); draw(); };
    const drop = () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", drop);
      if (key === "clicks") follow(state.outline.length > 0);
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", drop);
  };
  const look = (event) => {
    const [x, y] = at(event), box = view.getBoundingClientRect(), scale = 2.5 * Math.max(1, svg.getBoundingClientRect().width / wide);
    loupe.hidden = false;
    loupe.style.backgroundImage = `url("${picture}")`;
    loupe.style.backgroundSize = `${wide * scale}px ${high * scale}px`;
    loupe.style.backgroundPosition = `${75 - x * scale}px ${75 - y * scale}px`;
    const left = event.clientX - box.left > box.width / 2;
    loupe.classList.toggle("left", left);
  };
  const undo = () => {
    const before = past.pop();
    if (!before) return;
    for (const key of Object.keys(state)) delete state[key];
    Object.assign(state, JSON.parse(before));
    draw();
    say("Taken back.");
  };
  const grow = (by) => {
    zoom = Math.min(8, Math.max(1, zoom * by));
    svg.style.width = `${100 * zoom}%`;
    draw();
  };
  const DO = {
    find: async () => {
      remember();
      const said = await ask({ clicks: null, closed: true });
      if (!said) return;
      const { others, ...likeliest } = said;
      state.others = others;
      take(likeliest, "Found");
    },
    close: () => { remember(); follow(true); },
    undo, larger: () => grow(1.5), smaller: () => grow(1 / 1.5),
    clear: () => { remember(); for (const key of ["clicks", "outline", "grain", "fold", "notches", "dots"]) state[key] = []; state.open = null; state.unsure = []; state.others = []; draw(); say(WORDS[mode]); },
  };
  root.querySelectorAll("[data-do]").forEach((button) => button.addEventListener("click", () => DO[button.dataset.do]()));
  root.querySelectorAll("[data-mode]").forEach((button) => button.addEventListener("click", () => {
    mode = button.dataset.mode;
    root.querySelectorAll("[data-mode]").forEach((other) => other.setAttribute("aria-pressed", other === button));
    say(WORDS[mode]);
  }));
  svg.addEventListener("pointermove", look);
  svg.addEventListener("pointerleave", () => { loupe.hidden = true; });
  svg.addEventListener("click", (event) => { if (!event.target.closest(".spot")) set(at(event)); });
  svg.addEventListener("keydown", (event) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (by) {
      event.preventDefault();
      const step = (event.shiftKey ? 10 : 1) * perMm;
      cursor = cursor || [wide / 2, high / 2];
      cursor = [Math.min(wide, Math.max(0, cursor[0] + by[0] * step)), Math.min(high, Math.max(0, cursor[1] + by[1] * step))];
      draw();
    } else if (event.key === " " && cursor) { event.preventDefault(); set([...cursor]); }
    else if (event.key === "Backspace" || (event.key === "z" && (event.ctrlKey || event.metaKey))) { event.preventDefault(); undo(); }
    else if (event.key === "Enter") { event.preventDefault(); DO.close(); }
  });
  draw();
  if (state.outline.length) say(`${size(state.outline)}. Drag a point to move the line.`);
});
