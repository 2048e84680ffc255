// A drawing that is enlarged and moved: two fingers, the wheel with Ctrl, the keys + − 0 and the arrows with Shift, or its buttons.
// Where a piece stands out, the drawing begins on it and its neighbours. The screen stays on while the page is open.
(() => {
  const MOST = 12;
  const NEAR = 2.4; // so many times the piece's own size is shown about it

  class Zoom {
    constructor(box) {
      this.box = box;
      this.svg = box.querySelector("svg");
      const view = this.svg.viewBox.baseVal;
      this.whole = { x: view.x, y: view.y, width: view.width, height: view.height };
      this.now = { ...this.whole };
      this.fingers = new Map();
      this.svg.style.touchAction = "none";
      this.svg.addEventListener("pointerdown", (e) => this.down(e));
      this.svg.addEventListener("pointermove", (e) => this.move(e));
      ["pointerup", "pointercancel"].forEach((name) => this.svg.addEventListener(name, (e) => this.fingers.delete(e.pointerId)));
      this.svg.addEventListener("wheel", (e) => { if (e.ctrlKey) { e.preventDefault(); this.by(e.deltaY < 0 ? 1.2 : 1 / 1.2, this.at(e)); } }, { passive: false });
      box.querySelectorAll("[data-zoom-by]").forEach((b) => b.addEventListener("click", () => this.by(Number(b.dataset.zoomBy))));
      box.querySelector("[data-zoom-whole]")?.addEventListener("click", () => this.set(this.whole));
      document.addEventListener("keydown", (e) => this.key(e));
      this.svg.addEventListener("focusin", (e) => this.show(e.target));
      const piece = this.svg.querySelector("[data-focus]");
      if (piece) this.about(piece.getBBox());
    }

    // A place of the screen in the drawing's own measure.
    at(event) {
      return new DOMPoint(event.clientX, event.clientY).matrixTransform(this.svg.getScreenCTM().inverse());
    }

    set(view) {
      const width = Math.min(this.whole.width, Math.max(this.whole.width / MOST, view.width));
      const height = width * (this.whole.height / this.whole.width);
      const keep = (low, size, all, room) => Math.min(all + room - size, Math.max(all, low));
      this.now = { x: keep(view.x, width, this.whole.x, this.whole.width), y: keep(view.y, height, this.whole.y, this.whole.height), width, height };
      this.svg.setAttribute("viewBox", `${this.now.x} ${this.now.y} ${this.now.width} ${this.now.height}`);
    }

    by(times, at) {
      const middle = at || { x: this.now.x + this.now.width / 2, y: this.now.y + this.now.height / 2 };
      const width = this.now.width / times, share = width / this.now.width;
      this.set({ x: middle.x - (middle.x - this.now.x) * share, y: middle.y - (middle.y - this.now.y) * share, width });
    }

    about(piece) {
      const width = Math.max(piece.width * NEAR, (piece.height * NEAR * this.whole.width) / this.whole.height);
      const high = width * (this.whole.height / this.whole.width);
      this.set({ x: piece.x + piece.width / 2 - width / 2, y: piece.y + piece.height / 2 - high / 2, width });
    }

    // What the focus comes to is brought into view.
    show(part) {
      if (part === this.svg || !part.getBBox) return;
      const box = part.getBBox();
      const x = box.x + box.width / 2, y = box.y + box.height / 2;
      if (x >= this.now.x && x <= this.now.x + this.now.width && y >= this.now.y && y <= this.now.y + this.now.height) return;
      this.set({ ...this.now, x: x - this.now.width / 2, y: y - this.now.height / 2 });
    }

    down(event) {
      this.fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
    }

    move(event) {
      const was = this.fingers.get(event.pointerId);
      if (!was) return;
      const scale = this.now.width / this.svg.clientWidth;
      if (this.fingers.size === 1) {
        this.set({ ...this.now, x: this.now.x - (event.clientX - was.x) * scale, y: this.now.y - (event.clientY - was.y) * scale });
      } else {
        const other = [...this.fingers].find(([id]) => id !== event.pointerId)[1];
        const apart = (p) => Math.hypot(p.x - other.x, p.y - other.y) || 1;
        const here = { x: event.clientX, y: event.clientY };
        this.by(apart(here) / apart(was), this.at({ clientX: (here.x + other.x) / 2, clientY: (here.y + other.y) / 2 }));
      }
      this.fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
    }

    key(event) {
      if (event.ctrlKey || event.metaKey || event.altKey || event.target.matches("input, select, textarea")) return;
      const step = this.now.width / 8;
      const acts = {
        "+": () => this.by(1.3), "=": () => this.by(1.3), "-": () => this.by(1 / 1.3), "0": () => this.set(this.whole),
        ArrowLeft: () => this.set({ ...this.now, x: this.now.x - step }), ArrowRight: () => this.set({ ...this.now, x: this.now.x + step }),
        ArrowUp: () => this.set({ ...this.now, y: this.now.y - step }), ArrowDown: () => this.set({ ...this.now, y: this.now.y + step }),
      };
      const arrow = event.key.startsWith("Arrow");
      if (!acts[event.key] || arrow !== event.shiftKey && event.key !== "+") return;
      event.preventDefault();
      event.stopPropagation();
      acts[event.key]();
    }
  }

  const begin = () => document.querySelectorAll("[data-zoom]").forEach((box) => {
    if (!box.zoom && box.querySelector("svg")) box.zoom = new Zoom(box);
  });
  document.addEventListener("DOMContentLoaded", begin);
  document.addEventListener("htmx:afterSettle", begin);

  // Hands are full at the table and at the machine: the screen stays on where the device allows it.
  let lock = null;
  const awake = async () => {
    if (!document.querySelector("[data-awake]") || !navigator.wakeLock || document.visibilityState !== "visible") return;
    try { lock = await navigator.wakeLock.request("screen"); } catch { lock = null; }
  };
  document.addEventListener("DOMContentLoaded", awake);
  document.addEventListener("visibilitychange", () => { if (!lock || lock.released) awake(); });
})();
