// The projector's view: four corners on a rectangle of known size give the map from millimetres to the picture; keys move the pattern.
(() => {
  // The 3 x 3 map that takes four points to four others, by elimination; the last entry is 1.
  function mapOf(from, to) {
    const rows = [];
    from.forEach(([x, y], k) => {
      const [u, v] = to[k];
      rows.push([x, y, 1, 0, 0, 0, -u * x, -u * y, u], [0, 0, 0, x, y, 1, -v * x, -v * y, v]);
    });
    for (let i = 0; i < 8; i++) {
      let best = i;
      for (let r = i + 1; r < 8; r++) if (Math.abs(rows[r][i]) > Math.abs(rows[best][i])) best = r;
      [rows[i], rows[best]] = [rows[best], rows[i]];
      if (Math.abs(rows[i][i]) < 1e-12) return null;
      for (let r = 0; r < 8; r++) {
        if (r === i) continue;
        const share = rows[r][i] / rows[i][i];
        for (let c = i; c < 9; c++) rows[r][c] -= share * rows[i][c];
      }
    }
    return rows.map((row, i) => row[8] / row[i]).concat([1]);
  }
  function mapped(h, [x, y]) {
    const w = h[6] * x + h[7] * y + h[8];
    return [(h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w];
  }
  window.rowanProject = { mapOf, mapped };

  document.addEventListener("DOMContentLoaded", () => {
    const stage = document.getElementById("stage"), start = document.getElementById("project-start");
    if (!stage || !start) return;
    const wide = Number(stage.dataset.wide), high = Number(stage.dataset.high);
    const box = document.getElementById("projected-box"), svg = document.getElementById("projected");
    const corners = [...stage.querySelectorAll("[data-corner]")], said = stage.querySelector("[data-said]");
    const things = [...svg.querySelectorAll(".thing")], key = `project-${wide}-${high}`;
    const rectangle = [[0, 0], [wide, 0], [wide, high], [0, high]];
    const size = svg.viewBox.baseVal;
    Object.assign(svg.style, { width: `${size.width}px`, height: `${size.height}px`, maxWidth: "none", maxHeight: "none" });
    const NS = "http://www.w3.org/2000/svg";
    const frame = document.createElementNS(NS, "path");
    frame.setAttribute("class", "prove");
    svg.append(frame);
    let state = { to: null, at: [0, 0], turn: 0, thick: 3, invert: false, corners: true, thing: -1 };
    try { state = { ...state, ...JSON.parse(localStorage.getItem(key) || "{}") }; } catch { /* a private window keeps nothing */ }

    function usual() {
      const scale = Math.min((0.5 * innerWidth) / wide, (0.5 * innerHeight) / high);
      const [x, y] = [(innerWidth - wide * scale) / 2, (innerHeight - high * scale) / 2];
      return [[x, y], [x + wide * scale, y], [x + wide * scale, y + high * scale], [x, y + high * scale]];
    }
    function draw() {
      state.to ||= usual();
      const h = mapOf(rectangle, state.to);
      if (h) {
        const turn = (state.turn * Math.PI) / 180, [c, s] = [Math.cos(turn), Math.sin(turn)], [tx, ty] = state.at;
        // Millimetres of the pattern, turned and moved along the table, then as the projector stands.
        const m = [h[0] * c + h[1] * s, -h[0] * s + h[1] * c, h[0] * tx + h[1] * ty + h[2], h[3] * c + h[4] * s, -h[3] * s + h[4] * c,
          h[3] * tx + h[4] * ty + h[5], h[6] * c + h[7] * s, -h[6] * s + h[7] * c, h[6] * tx + h[7] * ty + h[8]];
        box.style.transform = `matrix3d(${m[0]},${m[3]},0,${m[6]},${m[1]},${m[4]},0,${m[7]},0,0,1,0,${m[2]},${m[5]},0,${m[8]})`;
        const back = ([x, y]) => [c * (x - tx) + s * (y - ty), -s * (x - tx) + c * (y - ty)];
        const line = (points) => `M${points.map((p) => back(p).join(" ")).join("L")}`;
        frame.setAttribute("d", `${line([...rectangle, rectangle[0]])} ${line([[10, 10], [110, 10]])} ${line([[10, 5], [10, 15]])} ${line([[110, 5], [110, 15]])}`);
        frame.classList.toggle("off", !state.corners);
      }
      corners.forEach((dot, k) => {
        dot.style.left = `${state.to[k][0]}px`;
        dot.style.top = `${state.to[k][1]}px`;
        dot.hidden = !state.corners;
      });
      stage.classList.toggle("inverted", state.invert);
      svg.style.setProperty("--thick", state.thick);
      try { localStorage.setItem(key, JSON.stringify(state)); } catch { /* as above */ }
    }
    function go(step) {
      if (!things.length) return;
      state.thing = (state.thing + step + things.length) % things.length;
      const thing = things[state.thing], turn = (state.turn * Math.PI) / 180;
      const [x, y] = [Number(thing.dataset.x), Number(thing.dataset.y)];
      state.at = [wide / 2 - (Math.cos(turn) * x - Math.sin(turn) * y), high / 2 - (Math.sin(turn) * x + Math.cos(turn) * y)];
      said.textContent = thing.dataset.title;
    }
    const acts = {
      next: () => go(1), previous: () => go(-1),
      left: (far) => { state.at = [state.at[0] - far, state.at[1]]; }, right: (far) => { state.at = [state.at[0] + far, state.at[1]]; },
      up: (far) => { state.at = [state.at[0], state.at[1] - far]; }, down: (far) => { state.at = [state.at[0], state.at[1] + far]; },
      turn: () => { state.turn = (state.turn + 90) % 360; }, thicker: () => { state.thick = Math.min(20, state.thick + 1); },
      thinner: () => { state.thick = Math.max(1, state.thick - 1); }, invert: () => { state.invert = !state.invert; },
      corners: () => { state.corners = !state.corners; },
      end: () => { stage.hidden = true; if (document.fullscreenElement) document.exitFullscreen(); start.focus(); },
    };
    const keys = { n: "next", p: "previous", arrowleft: "left", arrowright: "right", arrowup: "up", arrowdown: "down", r: "turn", "+": "thicker", "=": "thicker", "-": "thinner", i: "invert", c: "corners", escape: "end" };
    function act(name, far = 10) { acts[name](far); draw(); }

    start.addEventListener("click", () => {
      stage.hidden = false;
      if (stage.requestFullscreen) stage.requestFullscreen().catch(() => {});
      draw();
      corners[0].focus();
    });
    stage.addEventListener("click", (event) => {
      const name = event.target.dataset && event.target.dataset.do;
      if (name) act(name);
    });
    document.addEventListener("keydown", (event) => {
      if (stage.hidden || event.ctrlKey || event.metaKey || event.altKey) return;
      const name = keys[event.key.toLowerCase()], corner = document.activeElement && document.activeElement.dataset.corner;
      if (!name) return;
      event.preventDefault();
      event.stopPropagation();
      const step = { left: [-1, 0], right: [1, 0], up: [0, -1], down: [0, 1] }[name];
      if (corner !== undefined && step && state.corners) {
        const by = event.shiftKey ? 10 : 1, at = state.to[Number(corner)];
        state.to[Number(corner)] = [at[0] + by * step[0], at[1] + by * step[1]];
        draw();
      } else act(name, event.shiftKey ? 100 : 10);
    }, true);
    corners.forEach((dot, k) => {
      dot.addEventListener("pointerdown", (event) => { dot.setPointerCapture(event.pointerId); });
      dot.addEventListener("pointermove", (event) => {
        if (!dot.hasPointerCapture(event.pointerId)) return;
        const room = stage.getBoundingClientRect();
        state.to[k] = [event.clientX - room.left, event.clientY - room.top];
        draw();
      });
    });
    addEventListener("resize", () => { if (!stage.hidden) draw(); });
  });
})();
