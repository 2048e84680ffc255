// Small state for the pages: Alpine components (the build that needs no eval) and keyboard shortcuts.
document.addEventListener("htmx:beforeSwap", (event) => {
  const status = event.detail.xhr.status;
  if (status === 422 || status === 409 || status === 404) {
    event.detail.shouldSwap = true;
    event.detail.isError = false;
  }
});

// A form that came back with something wrong: its first such field has the focus, where the page opens it to view.
function goToWrong() {
  const field = document.querySelector("main [aria-invalid=true], main .is-wrong");
  if (!field) return;
  for (let box = field.closest("details"); box; box = box.parentElement.closest("details")) box.open = true;
  field.focus();
  field.scrollIntoView({ block: "center", behavior: "instant" });
}
document.addEventListener("DOMContentLoaded", goToWrong);
// What is loaded above it later must not push it out of view while one corrects it.
function keepWrongInView() {
  const field = document.activeElement;
  if (field?.getAttribute("aria-invalid") !== "true") return;
  const place = field.getBoundingClientRect();
  if (place.top < 0 || place.bottom > window.innerHeight) field.scrollIntoView({ block: "center", behavior: "instant" });
}
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.detail.target === document.body) setTimeout(goToWrong);
  else keepWrongInView();
});

// A name that no other region of the page has: the nearest heading's words, counted where there are several under it.
function regionName(box) {
  const heads = [...document.querySelectorAll("main h1, main h2, main h3, main summary, main caption")];
  const before = heads.filter((head) => head.compareDocumentPosition(box) & Node.DOCUMENT_POSITION_FOLLOWING);
  const words = box.dataset.label || `${before.length ? before[before.length - 1].textContent.trim().replace(/\s+/g, " ").slice(0, 60) : "Table"}, wider than the page`;
  const taken = new Set([...document.querySelectorAll("[role=region], section[aria-label]")].filter((one) => one !== box).map((one) => one.getAttribute("aria-label")));
  let name = words;
  for (let n = 2; taken.has(name); n += 1) name = `${words}, ${n}`;
  return name;
}

// A table that is wider than its place is scrolled by keys too: it takes the focus while it overflows.
function reachScrollers() {
  document.querySelectorAll(".scroll").forEach((box) => {
    if (box.scrollWidth > box.clientWidth + 1) {
      box.tabIndex = 0;
      box.setAttribute("role", "region");
      box.setAttribute("aria-label", regionName(box));
    } else if (box.getAttribute("role") === "region") {
      box.removeAttribute("tabindex");
      box.removeAttribute("role");
      box.removeAttribute("aria-label");
    }
  });
}
["load", "resize"].forEach((name) => window.addEventListener(name, reachScrollers));
["htmx:afterSwap", "htmx:afterSettle"].forEach((name) => document.addEventListener(name, reachScrollers));

document.addEventListener("alpine:init", () => {
  // The drawn figure: the tape of the measurement in focus is shown.
  Alpine.data("figure", () => ({
    show(event) { this.mark(event.target.dataset.tape); },
    mark(key) {
      this.$root.querySelectorAll(".tape").forEach((tape) => tape.classList.toggle("on", tape.dataset.tape === key));
      const field = this.$root.querySelector(`[data-where="${key}"]`);
      const words = this.$root.querySelector("[data-words]");
      if (field && words) words.textContent = field.textContent;
    },
  }));

  // The ease picture: the line that is cut is dragged, or moved by arrow keys, from size line to size line.
  Alpine.data("easeline", () => ({
    init() {
      this.$root.querySelectorAll(".handle").forEach((handle) => {
        handle.addEventListener("pointerdown", (event) => this.grab(event, handle));
        handle.addEventListener("keydown", (event) => this.step(event, handle));
      });
      const back = location.hash.startsWith("#handle-") && document.getElementById(location.hash.slice(1));
      if (back && this.$root.contains(back)) back.focus();
    },
    stops(handle) { return JSON.parse(handle.dataset.stops); },
    grab(event, handle) {
      event.preventDefault();
      const svg = handle.ownerSVGElement;
      handle.setPointerCapture(event.pointerId);
      const move = (moved) => {
        const point = new DOMPoint(moved.clientX, moved.clientY).matrixTransform(svg.getScreenCTM().inverse());
        this.to(handle, this.nearest(handle, point.x));
      };
      const drop = () => {
        handle.removeEventListener("pointermove", move);
        handle.removeEventListener("pointerup", drop);
        this.keep(handle);
      };
      handle.addEventListener("pointermove", move);
      handle.addEventListener("pointerup", drop);
    },
    nearest(handle, x) {
      return this.stops(handle).reduce((best, stop) => (Math.abs(stop[1] - x) < Math.abs(best[1] - x) ? stop : best));
    },
    to(handle, stop) {
      handle.dataset.size = stop[0];
      const y = handle.getAttribute("transform").match(/([\d.]+)\)$/)[1];
      handle.setAttribute("transform", `translate(${stop[1]} ${y})`);
      handle.querySelector("text").textContent = stop[0];
      const line = handle.ownerSVGElement.querySelector(".chosen-line");
      const places = [...handle.ownerSVGElement.querySelectorAll(".handle")].map((h) => h.getAttribute("transform").match(/[-\d.]+/g).join(","));
      if (line) line.setAttribute("points", places.join(" "));
      this.$root.querySelector("[data-live]").textContent = `${handle.dataset.zone}: size ${stop[0]}.`;
    },
    step(event, handle) {
      const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
      if (!by) return;
      event.preventDefault();
      const stops = this.stops(handle);
      const now = stops.findIndex((stop) => stop[0] === handle.querySelector("text").textContent);
      this.to(handle, stops[Math.min(stops.length - 1, Math.max(0, now + by))]);
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.keep(handle), 700);
    },
    waiting: null,
    keep(handle) {
      const form = this.$root.querySelector("[data-size-form]");
      const zone = form.elements[`zone-${handle.dataset.zone}`];
      if (!handle.dataset.size) return;
      if (zone) zone.value = handle.dataset.size === form.elements.size.value ? "" : handle.dataset.size;
      else form.elements.size.value = handle.dataset.size;
      form.elements.handle.value = handle.dataset.zone;
      form.requestSubmit();
    },
  }));

  // An alteration's form: what the chosen kind is, and only the fields that it takes.
  Alpine.data("kinds", () => ({
    init() { this.show(); },
    show() {
      const chosen = this.$root.querySelector("#f-kind").selectedOptions[0];
      const inputs = chosen.dataset.inputs.split(" ");
      this.$root.querySelectorAll("[data-input]").forEach((field) => { field.hidden = !inputs.includes(field.dataset.input); });
      this.$root.querySelector("p[data-about]").textContent = chosen.dataset.about;
    },
  }));

  // The sewing order: drag a step, or move it with its two buttons; the server says what is too early.
  Alpine.data("order", () => ({
    dragged: null,
    start(event) {
      this.dragged = event.target.closest("li.step");
      this.dragged.classList.add("dragging");
      event.dataTransfer.effectAllowed = "move";
      event.dataTransfer.setData("text/plain", this.dragged.dataset.step);
    },
    over(event) {
      const row = event.target.closest("li.step");
      if (!row || !this.dragged) return;
      event.preventDefault();
      this.$root.querySelectorAll(".over").forEach((other) => other.classList.remove("over"));
      row.classList.add("over");
    },
    drop(event) {
      const row = event.target.closest("li.step");
      if (!row || !this.dragged || row === this.dragged) return;
      event.preventDefault();
      this.send(this.dragged.dataset.step, row.dataset.step);
    },
    end() {
      this.$root.querySelectorAll(".over, .dragging").forEach((row) => row.classList.remove("over", "dragging"));
      this.dragged = null;
    },
    send(step, before) {
      const values = { step: step, before: before };
      htmx.ajax("POST", this.$root.dataset.url, { target: "#steps", swap: "outerHTML", values: values });
    },
  }));

  // Rows of a table that can be added to: the hidden template row is copied.
  Alpine.data("rows", () => ({
    add() {
      const template = this.$root.querySelector("template");
      this.$root.querySelector("tbody").append(template.content.cloneNode(true));
      const fields = this.$root.querySelectorAll("tbody tr:last-child input");
      this.columns();
      if (fields.length) fields[0].focus();
    },
    // Only the columns that the garment needs, those in which something stands, or all of them.
    columns() {
      const form = this.$root, needs = form.dataset.needs && JSON.parse(form.dataset.needs)[form.elements.garment.value];
      if (!needs) return;
      const all = form.querySelector("[data-every]").checked, shown = { body: 0, finished: 0 };
      for (const head of form.querySelectorAll("th[data-col]")) {
        const name = head.dataset.col, cells = [...form.querySelectorAll(`td[data-col="${name}"]`)];
        const here = all || needs.includes(name) || cells.some((cell) => cell.querySelector("input").value);
        for (const cell of [head, ...cells]) cell.hidden = !here;
        if (here) shown[name.startsWith("finished") ? "finished" : "body"] += 1;
      }
      for (const [kind, count] of Object.entries(shown)) form.querySelector(`[data-over=${kind}]`).colSpan = count;
    },
    // What a cell's words were understood as, beside it, as for every other length field.
    echo(event) {
      const field = event.target;
      const place = field.parentElement.querySelector(".echo-cell");
      if (!place) return;
      clearTimeout(this.waiting);
      this.waiting = setTimeout(async () => {
        const answer = await fetch("/patterns/echo", { method: "POST", body: new URLSearchParams({ [field.name]: field.value }) });
        place.innerHTML = await answer.text();
      }, 250);
    },
    waiting: null,
    drop(event) {
      const root = this.$root, row = event.target.closest("tr"); // a row that is gone has no root any more
      if (root.querySelectorAll("tbody tr").length > 1 || root.querySelector(".may-be-empty")) row.remove();
      root.dispatchEvent(new Event("change", { bubbles: true }));
    },
  }));

  // A view that fills the screen: arrow keys and the space bar walk on, a button asks for the whole screen.
  Alpine.data("walk", () => ({
    init() { this.listen = (event) => this.key(event); document.addEventListener("keydown", this.listen); },
    destroy() { document.removeEventListener("keydown", this.listen); },
    key(event) {
      if (event.ctrlKey || event.metaKey || event.altKey || event.target.matches("input, select, textarea, button, summary")) return;
      const way = { ArrowRight: "next", " ": "next", PageDown: "next", ArrowLeft: "prev", PageUp: "prev" }[event.key];
      const link = way && this.$root.querySelector(`a[rel=${way}]`);
      if (link) { event.preventDefault(); link.click(); }
    },
    fill() { if (document.fullscreenElement) document.exitFullscreen(); else document.documentElement.requestFullscreen(); },
  }));

  Alpine.data("printing", () => ({ print() { window.print(); } }));
});

// Without a connection: what is ticked is kept here and sent when it is back; what could not be done then is told.
(() => {
  const PLACE = "rowanseed-kept";
  const kept = () => JSON.parse(localStorage.getItem(PLACE) || "[]");
  const keep = (list) => localStorage.setItem(PLACE, JSON.stringify(list));
  const say = (words) => {
    const line = document.querySelector("[data-offline-words]");
    if (line) { line.textContent = words; line.hidden = !words; }
  };
  const waiting = () => {
    const list = kept();
    const ticks = list.filter((one) => one.tick !== false).length;
    const notes = list.length - ticks;
    const many = (n, word) => (n ? `${n} ${word}${n === 1 ? "" : "s"}` : "");
    const what = [many(ticks, "tick"), many(notes, "note")].filter(Boolean).join(" and ");
    say(what ? `No connection: ${what} ${list.length === 1 ? "is" : "are"} kept on this device and sent when it is back.` : "");
  };
  const body = (form) => new URLSearchParams(new FormData(form)).toString();
  const held = (button) => {
    if (!button) return;
    button.disabled = true;
    if (button.classList.contains("tick")) button.classList.add("held");
    else button.textContent = "Kept, to be sent";
    button.title = "Kept, to be sent";
  };
  const hold = (form) => {
    const tick = form.dataset.keptAs !== "note";
    keep([...kept(), { url: form.getAttribute("action"), body: body(form), what: form.dataset.keptOffline, tick }]);
    held(form.querySelector("button"));
    waiting();
  };
  // A page that was kept does not know what was ticked since: its forms say so.
  const mark = () => {
    const list = kept();
    document.querySelectorAll("form[data-kept-offline]").forEach((form) => {
      if (list.some((one) => one.url === form.getAttribute("action") && one.body === body(form))) held(form.querySelector("button"));
    });
  };
  let sending = false;
  const send = async () => {
    if (sending || !kept().length) return;
    sending = true;
    const told = [];
    try {
      while (kept().length) {
        const [first, ...rest] = kept();
        const answer = await fetch(first.url, { method: "POST", body: first.body, headers: { "Content-Type": "application/x-www-form-urlencoded" } });
        if (new URL(answer.url).pathname === "/login") {  // nothing was taken: this device was logged out meanwhile
          sending = false;
          say("Log in on this device again: what is kept here is sent then.");
          return;
        }
        if (!answer.ok) told.push(first.what);
        keep(rest);
      }
      say(told.length ? `Sent, but not ${told.join(", ")}: that has changed since. Load the page again and look.` : "What was ticked or noted meanwhile is sent. Load the page to see it.");
    } catch (lost) { waiting(); }
    sending = false;
  };
  document.addEventListener("htmx:sendError", (event) => { if (event.detail.elt.dataset.keptOffline) hold(event.detail.elt); });
  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (!form.dataset.keptOffline || form.hasAttribute("hx-post")) return;
    event.preventDefault();
    fetch(form.getAttribute("action"), { method: "POST", body: body(form), headers: { "Content-Type": "application/x-www-form-urlencoded" } })
      .then((answer) => {
        if (answer.ok) location.assign(answer.url);
        else form.submit();  // the page says what is wrong
      }, () => hold(form));
  });
  document.addEventListener("submit", (event) => {
    if (event.target.getAttribute("action") !== "/logout") return;
    localStorage.removeItem(PLACE);
    sessionStorage.clear();
    if (window.caches) caches.keys().then((names) => names.forEach((name) => caches.delete(name)));
  });
  window.addEventListener("online", send);
  document.addEventListener("DOMContentLoaded", () => { waiting(); mark(); send(); });
  setInterval(send, 15000);
  if ("serviceWorker" in navigator && window.isSecureContext) {
    window.addEventListener("load", async () => {
      await navigator.serviceWorker.register(`/worker.js?v=${document.body.dataset.version}`);
      const ready = await navigator.serviceWorker.ready;
      if (location.pathname !== "/shopping") ready.active.postMessage("keep the list");
    });
  }
})();

// Long choices are found by typing: a field above them narrows what they offer.
(() => {
  const narrow = (select) => {
    if (select.dataset.narrowed || select.options.length < 13 || select.multiple) return;
    select.dataset.narrowed = "on";
    const field = document.createElement("input");
    field.type = "search"; field.className = "form-control form-control-sm narrow"; field.autocomplete = "off";
    field.placeholder = `Type to find one of ${select.options.length}`;
    const label = select.labels && select.labels[0];
    field.setAttribute("aria-label", `Find in ${label ? label.textContent.trim() : "this choice"}`);
    const all = [...select.options];
    field.addEventListener("input", (event) => {
      event.stopPropagation();
      const words = field.value.toLowerCase().split(/\s+/).filter(Boolean);
      const fits = (option) => words.every((word) => option.textContent.toLowerCase().includes(word));
      const chosen = select.value;
      select.replaceChildren(...all.filter((option) => fits(option) || (option.selected && !words.length)));
      if ([...select.options].some((option) => option.value === chosen)) select.value = chosen;
      else if (select.options.length) { select.selectedIndex = 0; select.dispatchEvent(new Event("change", { bubbles: true })); }
      else select.replaceChildren(...all.filter((option) => option.value === chosen));
    });
    select.before(field);
  };
  const each = (root) => root.querySelectorAll("select.form-select").forEach(narrow);
  document.addEventListener("DOMContentLoaded", () => each(document));
  document.addEventListener("htmx:load", (event) => each(event.detail.elt));
})();

// A form that was begun is not left by a slip: the browser asks first.
(() => {
  const begun = new Set();
  document.addEventListener("input", (event) => {
    const form = event.target.form;
    if (form && form.method === "post" && event.target.type !== "hidden") begun.add(form);
  });
  const done = (event) => begun.delete(event.target.closest ? event.target.closest("form") : event.target);
  document.addEventListener("submit", done);
  document.addEventListener("reset", done);
  document.addEventListener("htmx:afterRequest", (event) => { if (event.detail.successful) done(event); });
  window.addEventListener("beforeunload", (event) => {
    if ([...begun].some((form) => form.isConnected)) { event.preventDefault(); event.returnValue = ""; }
  });
})();

// Keyboard: g then a letter goes to a room, 1 to 6 to a stage, n follows the next action, ? shows the sheet.
(() => {
  let going = false;
  const off = () => { try { return localStorage.getItem("keys") === "off"; } catch { return false; } };
  const box = document.querySelector("[data-keys-off]");
  if (box) {
    box.checked = off();
    box.addEventListener("change", () => {
      try { if (box.checked) localStorage.setItem("keys", "off"); else localStorage.removeItem("keys"); } catch { /* this page only */ }
    });
  }
  const typing = (target) => target.matches("input, select, textarea, [contenteditable]");
  document.addEventListener("keydown", (event) => {
    if ((event.ctrlKey || event.metaKey) && !event.altKey && event.key.toLowerCase() === "k") {
      const seek = document.querySelector(".seek input");
      if (seek) { event.preventDefault(); seek.focus(); }
      return;
    }
    if (off() || event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
    const sheet = document.getElementById("keys");
    if (!sheet) return;
    if (event.key === "?") { event.preventDefault(); if (sheet.open) { sheet.close(); } else { sheet.showModal(); } return; }
    if (sheet && sheet.open) return;
    if (going) {
      going = false;
      const room = document.querySelector(`.rooms a[data-key="${event.key}"]`);
      if (room) { event.preventDefault(); room.click(); }
      return;
    }
    if (event.key === "g") { going = true; return; }
    if (/^[1-6]$/.test(event.key)) {
      const stage = document.querySelector(`.stages li:nth-child(${event.key}) a`);
      if (stage) { event.preventDefault(); stage.click(); }
    }
    if (event.key === "/") {
      const seek = document.querySelector(".seek input");
      if (seek) { event.preventDefault(); seek.focus(); }
    }
    if (event.key === "n") {
      const next = document.querySelector("[data-next]");
      if (next) { event.preventDefault(); next.click(); }
    }
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-show-keys]")) document.getElementById("keys").showModal();
    if (event.target.closest("[data-close-keys]")) document.getElementById("keys").close();
  });
})();

// One field that goes anywhere: what the words lead to stands below it; arrow keys choose, Escape closes it.
document.addEventListener("DOMContentLoaded", () => {
  const form = document.querySelector("form.seek"), panel = document.getElementById("quick");
  if (!form || !panel) return;
  const field = form.querySelector("input"), links = () => [...panel.querySelectorAll("a")];
  const show = (on) => { panel.hidden = !on; };
  panel.addEventListener("htmx:afterSwap", () => show(form.contains(document.activeElement)));
  field.addEventListener("focus", () => { if (panel.childElementCount) show(true); });
  form.addEventListener("focusout", (event) => { if (!form.contains(event.relatedTarget)) show(false); });
  form.addEventListener("keydown", (event) => {
    const all = links(), at = all.indexOf(document.activeElement);
    if (event.key === "Escape") { show(false); field.focus(); show(false); return; }
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      const to = event.key === "ArrowDown" ? Math.min(at + 1, all.length - 1) : at - 1;
      (to < 0 ? field : all[to])?.focus();
    }
  });
  form.addEventListener("submit", (event) => {
    const first = panel.hidden ? null : panel.querySelector(".ways a");
    if (first && field.value.trim()) { event.preventDefault(); first.click(); }
  });
});

// The timer at the machine: counts while it runs, and goes along with the step when that is ticked or left.
document.addEventListener("DOMContentLoaded", () => {
  const form = document.querySelector("[data-timer]");
  if (!form) return;
  const clock = form.querySelector("[data-clock]"), kept = form.querySelector("[name=seconds]");
  let from = 0, before = Number(kept.value) || 0, ticking = 0;
  const show = () => {
    const all = before + (from ? Math.floor((Date.now() - from) / 1000) : 0);
    kept.value = all || "";
    clock.textContent = `${Math.floor(all / 60)}:${String(all % 60).padStart(2, "0")}${from ? " · stop" : ""}`;
  };
  clock.addEventListener("click", () => {
    if (from) { show(); before = Number(kept.value); from = 0; clearInterval(ticking); show(); return; }
    from = Date.now();
    ticking = setInterval(show, 1000);
    show();
  });
  form.addEventListener("submit", () => { if (from) show(); });
});

// Other windows of the same make: where one shows something newer, the others show it anew, at once while nobody looks and nothing
// is typed in them, else when that is asked for.
(() => {
  const mark = () => document.querySelector("[data-make][data-stamp]");
  if (!mark() || !window.BroadcastChannel) return;
  const others = new BroadcastChannel("rowanseed");
  let typed = false, stale = false, told = "";
  const tell = () => {
    if (mark() && mark().dataset.stamp !== told) {
      told = mark().dataset.stamp;
      others.postMessage({ make: mark().dataset.make, stamp: told });
    }
  };
  const anew = () => { if (stale && !typed && document.visibilityState === "hidden") location.reload(); };
  others.onmessage = ({ data }) => {
    if (!mark() || data.make !== mark().dataset.make || data.stamp === mark().dataset.stamp) return;
    stale = true;
    document.querySelector("[data-changed-words]").hidden = false;
    anew();
  };
  document.addEventListener("input", () => { typed = true; });
  document.addEventListener("submit", () => { typed = false; });
  document.addEventListener("visibilitychange", anew);
  document.addEventListener("htmx:afterSettle", tell);
  document.querySelector("[data-show-anew]").addEventListener("click", () => location.reload());
  tell();
})();
