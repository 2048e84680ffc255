// A lay moved by hand: pieces are drawn over the server's cloth, dragged or moved by key, and judged as they move.
(() => {
  const NEAR = 8; // mm within which a dropped piece comes to lie against its neighbour
  const PUSH = 14; // mm over which a piece dropped on another is put beside it
  const MARGIN = 0.02; // mm kept when sliding up against something, so that the server agrees
  const SVG = "http://www.w3.org/2000/svg";

  document.addEventListener("DOMContentLoaded", () => {
    const form = document.getElementById("hand");
    if (form) new Hand(form).begin();
  });

  class Hand {
    constructor(form) {
      this.form = form;
      this.data = JSON.parse(form.dataset.lay);
      this.live = form.querySelector("[data-live]");
      this.svg = form.querySelector(".hand-cloth svg");
      this.layer = form.querySelector("[data-pieces]");
      this.pieces = this.data.pieces;
      this.pieces.forEach((piece) => { piece.held = this.data.held.includes(piece.number); });
      this.past = [];
      this.future = [];
      this.chosen = null;
      this.asking = null;
      this.text = this.svg.viewBox.baseVal.width / 75;
    }

    begin() {
      this.pieces.forEach((piece) => this.add(piece));
      this.form.querySelectorAll("[data-do]").forEach((button) => {
        button.addEventListener("click", () => this.act(button.dataset.do, false));
      });
      this.form.addEventListener("keydown", (event) => this.key(event));
      this.form.addEventListener("submit", () => { this.form.elements.places.value = this.places(); });
      this.judge();
    }

    // ---- drawing

    add(piece) {
      piece.group = document.createElementNS(SVG, "g");
      piece.group.setAttribute("class", "hand-piece");
      piece.group.setAttribute("tabindex", "0");
      piece.group.setAttribute("role", "button");
      piece.shape = piece.group.appendChild(document.createElementNS(SVG, "path"));
      piece.arrow = piece.group.appendChild(document.createElementNS(SVG, "path"));
      piece.arrow.setAttribute("class", "hand-grain");
      piece.label = piece.group.appendChild(document.createElementNS(SVG, "text"));
      piece.label.setAttribute("text-anchor", "middle");
      piece.label.setAttribute("font-size", this.text);
      this.layer.append(piece.group);
      piece.group.addEventListener("focus", () => this.choose(piece));
      piece.group.addEventListener("pointerdown", (event) => this.grab(event, piece));
      this.draw(piece);
    }

    pose(piece) { return piece.poses[piece.pose]; }
    lane(piece) { return this.data.lanes[piece.lane]; }
    at(piece, points) { return points.map(([x, y]) => [x + piece.x, y + piece.y]); }
    cut(piece) { return this.at(piece, this.pose(piece).cut || this.pose(piece).outline); }

    onTable(piece, points) {
      const lane = this.lane(piece);
      return points.map(([x, y]) => [x, lane.back ? lane.to - y : lane.from + y]);
    }

    draw(piece) {
      const line = (points) => points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join("L");
      const outline = this.onTable(piece, this.at(piece, this.pose(piece).outline));
      piece.shape.setAttribute("d", `M${line(outline)}Z`);
      const [x0, y0, x1, y1] = Geometry.box(outline), roomy = Math.min(x1 - x0, y1 - y0) > this.text * 5;
      const grain = roomy && this.pose(piece).grain;
      piece.arrow.setAttribute("d", grain ? `M${line(this.onTable(piece, this.at(piece, grain)))}` : "");
      piece.label.setAttribute("x", (x0 + x1) / 2);
      piece.label.setAttribute("y", (y0 + y1) / 2 + this.text * (roomy ? -0.4 : 0.36));
      piece.label.textContent = piece.held ? `${piece.title} · held` : piece.title;
      piece.group.classList.toggle("down", this.pose(piece).down && !piece.fold);
      piece.group.classList.toggle("held", piece.held);
      piece.group.setAttribute("aria-label", this.words(piece));
    }

    say(length) {
      const mm = Math.abs(length) < 0.5 ? 0 : length; // no minus before a nought
      if (this.data.unit === "in") {
        const eighths = Math.round((mm / 25.4) * 8), whole = Math.floor(eighths / 8), rest = eighths % 8;
        const part = rest % 4 === 0 && rest ? "1/2" : rest % 2 === 0 && rest ? `${rest / 2}/4` : rest ? `${rest}/8` : "";
        return `${whole || !part ? whole : ""}${whole && part ? " " : ""}${part} in`;
      }
      return `${(mm / 10).toFixed(1).replace(/\.0$/, "")} cm`;
    }

    words(piece) {
      const lane = this.lane(piece), [x0, y0] = Geometry.box(this.at(piece, this.pose(piece).outline));
      const turned = this.pose(piece).turned % 360;
      const how = [piece.fold ? "on the fold" : `${this.say(y0)} from the ${lane.edges[0]}`];
      if (turned === 180) how.push("head to the far end");
      else if (turned) how.push(`turned ${turned} degrees`);
      if (this.pose(piece).down && !piece.fold) how.push("printed side down");
      if (piece.held) how.push("held");
      return `${piece.title} ${piece.name}: ${this.say(x0)} from the cut end, ${how.join(", ")}`;
    }

    // ---- judging

    // What is wrong with one piece where it lies: texts, empty when nothing is.
    wrongs(piece) {
      const lane = this.lane(piece), shape = this.cut(piece), box = Geometry.box(shape), out = [];
      const near = piece.onSelvage ? 0 : lane.near, far = piece.onSelvage ? lane.to - lane.from : lane.far;
      const over = Math.max(lane.start - box[0], near - box[1], box[3] - far, lane.end === null ? 0 : box[2] - lane.end);
      if (over > 0.05) out.push(`leaves the cloth by ${this.say(over)}`);
      for (const [x0, y0, x1, y1] of lane.flaws) {
        if (Geometry.overlap(shape, [[x0, y0], [x1, y0], [x1, y1], [x0, y1]])) out.push("lies on a flaw");
      }
      for (const other of this.pieces) {
        if (other === piece || other.lane !== piece.lane) continue;
        const theirs = this.cut(other);
        if (Geometry.apart(box, Geometry.box(theirs), this.data.gap)) continue;
        if (Geometry.overlap(shape, theirs)) out.push(`overlaps ${other.title} ${other.name}`);
        else if (this.data.gap && Geometry.distance(shape, theirs) < this.data.gap - 0.05) out.push(`is too near ${other.title} ${other.name}`);
      }
      return out;
    }

    judge() {
      let sound = true;
      for (const piece of this.pieces) {
        const wrong = this.wrongs(piece);
        piece.group.classList.toggle("wrong", wrong.length > 0);
        if (wrong.length) sound = false;
      }
      this.form.querySelector(".hand-cloth").classList.toggle("unsound", !sound);
      const piece = this.chosen;
      if (!piece) return;
      const wrong = this.wrongs(piece);
      this.live.textContent = wrong.length ? `${piece.title} ${piece.name} ${wrong.join(", and ")}.` : `${this.words(piece)}.`;
      this.live.classList.toggle("wrong", wrong.length > 0);
    }

    confirm() {
      clearTimeout(this.asking);
      this.asking = setTimeout(async () => {
        const body = new URLSearchParams({ role: this.form.elements.role.value, places: this.places() });
        const answer = await fetch(this.form.dataset.check, { method: "POST", body });
        if (answer.ok) document.getElementById("verdict").innerHTML = await answer.text();
      }, 350);
    }

    places() {
      return JSON.stringify(this.pieces.map(({ number, pose, lane, x, y, held }) => ({ number, pose, lane, x, y, held })));
    }

    // ---- moving

    choose(piece) {
      if (this.chosen) this.chosen.group.classList.remove("chosen");
      this.chosen = piece;
      piece.group.classList.add("chosen");
      this.judge();
    }

    state() { return this.pieces.map(({ pose, lane, x, y, held }) => ({ pose, lane, x, y, held })); }

    remember(before) {
      this.past.push(before);
      if (this.past.length > 200) this.past.shift();
      this.future = [];
    }

    restore(state) {
      state.forEach((was, k) => { Object.assign(this.pieces[k], was); this.draw(this.pieces[k]); });
    }

    // Do something to the chosen piece as one step that can be undone.
    step(change) {
      const piece = this.chosen;
      if (!piece) return;
      const before = this.state();
      change(piece);
      this.remember(before);
      this.settle(piece);
    }

    settle(piece) {
      this.draw(piece);
      this.judge();
      this.confirm();
    }

    act(what, far) {
      const by = this.data.step * (far ? (this.data.unit === "in" ? 8 : 10) : 1);
      const moves = { left: [-by, 0], right: [by, 0], up: [0, -by], down: [0, by] };
      const slides = { home: [-1, 0], end: [1, 0], pageup: [0, -1], pagedown: [0, 1] };
      if (what === "undo" || what === "redo") this.back(what === "undo");
      else if (moves[what]) this.step((piece) => this.move(piece, ...moves[what]));
      else if (slides[what]) this.step((piece) => this.slide(piece, ...slides[what]));
      else if (what === "turn") this.step((piece) => this.turn(piece, (a, b) => a.down === b.down));
      else if (what === "over") this.step((piece) => this.turn(piece, (a, b) => a.down !== b.down && a.turned === b.turned));
      else if (what === "hold") this.step((piece) => { piece.held = !piece.held; });
    }

    back(undo) {
      const [from, to] = undo ? [this.past, this.future] : [this.future, this.past];
      if (!from.length) { this.live.textContent = undo ? "Nothing to take back." : "Nothing to make again."; return; }
      to.push(this.state());
      this.restore(from.pop());
      this.judge();
      this.confirm();
    }

    // Across the table, which in a second fold runs the other way than across the lane.
    move(piece, dx, dy) {
      piece.x += dx;
      if (!piece.fold) piece.y += this.lane(piece).back ? -dy : dy;
    }

    turn(piece, fits) {
      const now = this.pose(piece), count = piece.poses.length;
      const middle = (pose) => { const b = Geometry.box(pose.outline); return [(b[0] + b[2]) / 2, (b[1] + b[3]) / 2]; };
      for (let k = 1; k <= count; k += 1) {
        const next = (piece.pose + k) % count;
        if (next === piece.pose || !fits(now, piece.poses[next])) continue;
        const [ax, ay] = middle(now), [bx, by] = middle(piece.poses[next]);
        piece.pose = next;
        piece.x += ax - bx;
        if (!piece.fold) piece.y += ay - by;
        return;
      }
      this.live.textContent = `${piece.title} ${piece.name} may lie only so, for its grain, the nap or its pair.`;
    }

    sound(piece, x, y) {
      const was = [piece.x, piece.y];
      [piece.x, piece.y] = [x, y];
      const is = this.wrongs(piece).length === 0;
      [piece.x, piece.y] = was;
      return is;
    }

    // As far as it goes in a direction from where it lies: the furthest sound place before the first unsound one.
    reach(piece, dx, dy, most) {
      const pace = 4;
      let good = 0;
      for (let way = pace; way <= most; way += pace) {
        if (this.sound(piece, piece.x + dx * way, piece.y + dy * way)) { good = way; continue; }
        let bad = way;
        while (bad - good > MARGIN) {
          const mid = (good + bad) / 2;
          if (this.sound(piece, piece.x + dx * mid, piece.y + dy * mid)) good = mid; else bad = mid;
        }
        return good;
      }
      return null;
    }

    slide(piece, dx, dy) {
      if (piece.fold && dy) return;
      const across = this.lane(piece).back ? -dy : dy;
      const way = this.reach(piece, dx, across, 20000);
      if (way !== null) { piece.x += dx * way; piece.y += across * way; }
    }

    // A dropped piece comes to lie against what is near, or is put beside what it was dropped on.
    snap(piece) {
      if (!this.sound(piece, piece.x, piece.y)) {
        for (let way = 1; way <= PUSH; way += 1) {
          for (let k = 0; k < 16; k += 1) {
            const dx = Math.cos((k * Math.PI) / 8), dy = piece.fold ? 0 : Math.sin((k * Math.PI) / 8);
            if (this.sound(piece, piece.x + dx * way, piece.y + dy * way)) {
              piece.x += dx * way;
              piece.y += dy * way;
              way = PUSH + 1;
              break;
            }
          }
        }
        if (!this.sound(piece, piece.x, piece.y)) return;
      }
      const ways = piece.fold ? [[-1, 0], [1, 0]] : [[-1, 0], [0, -1], [0, 1], [1, 0]];
      let along = false, across = false;
      for (const [dx, dy] of ways) {
        if ((dx && along) || (dy && across)) continue;
        const way = this.reach(piece, dx, dy, NEAR);
        if (way === null) continue;
        piece.x += dx * way;
        piece.y += dy * way;
        if (dx) along = true; else across = true;
      }
    }

    grab(event, piece) {
      if (event.button) return;
      event.preventDefault();
      this.layer.append(piece.group); // before the capture, which a piece that is moved in the page would lose
      piece.group.focus({ preventScroll: true });
      this.choose(piece);
      const before = this.state(), inverse = this.svg.getScreenCTM().inverse();
      const point = (e) => new DOMPoint(e.clientX, e.clientY).matrixTransform(inverse);
      const from = point(event), start = [piece.x, piece.y], back = this.lane(piece).back ? -1 : 1;
      let moved = false;
      piece.group.setPointerCapture(event.pointerId);
      const move = (e) => {
        const to = point(e);
        if (!moved && Math.hypot(to.x - from.x, to.y - from.y) < 3) return;
        moved = true;
        piece.x = start[0] + to.x - from.x;
        if (!piece.fold) piece.y = start[1] + back * (to.y - from.y);
        this.draw(piece);
        this.judge();
      };
      const drop = (e) => {
        piece.group.removeEventListener("pointermove", move);
        piece.group.removeEventListener("pointerup", drop);
        piece.group.removeEventListener("pointercancel", drop);
        if (!moved) return;
        if (!e.altKey) this.snap(piece);
        this.remember(before);
        this.settle(piece);
      };
      piece.group.addEventListener("pointermove", move);
      piece.group.addEventListener("pointerup", drop);
      piece.group.addEventListener("pointercancel", drop);
    }

    key(event) {
      const name = event.key.toLowerCase();
      if ((event.ctrlKey || event.metaKey) && (name === "z" || name === "y")) {
        event.preventDefault();
        this.back(name === "z" && !event.shiftKey);
        return;
      }
      if (!event.target.closest(".hand-piece") || event.ctrlKey || event.metaKey || event.altKey) return;
      const keys = {
        arrowleft: "left", arrowright: "right", arrowup: "up", arrowdown: "down", home: "home", end: "end",
        pageup: "pageup", pagedown: "pagedown", r: "turn", f: "over", h: "hold",
      };
      if (!keys[name]) return;
      event.preventDefault();
      this.act(keys[name], event.shiftKey);
    }
  }
})();
