// What a page shows of where the focus is: each control is given it in turn, and its ring measured.
// Source: W3C, Web Content Accessibility Guidelines 2.2: 2.4.7 (seen), 2.4.11 (not hidden), 2.4.13 (2 px, contrast 3 to 1).
() => {
  const lum = (c) => { const f = c.map((v) => { v /= 255; return v <= .04045 ? v / 12.92 : ((v + .055) / 1.055) ** 2.4; }); return .2126 * f[0] + .7152 * f[1] + .0722 * f[2]; };
  const rgba = (s) => { const m = s.match(/[\d.]+/g); return m ? m.map(Number) : null; };
  const ground = (el) => { for (let e = el; e; e = e.parentElement) { const c = rgba(getComputedStyle(e).backgroundColor); if (c && (c.length < 4 || c[3] > .5)) return c.slice(0, 3); } return [255, 255, 255]; };
  const contrast = (a, b) => { const [x, y] = [lum(a), lum(b)].sort((p, q) => q - p); return (x + .05) / (y + .05); };
  const look = (el) => { const s = getComputedStyle(el); return { style: s.outlineStyle, width: parseFloat(s.outlineWidth), color: s.outlineColor, offset: parseFloat(s.outlineOffset), shadow: s.boxShadow, border: s.borderColor }; };
  const parts = (el) => [el, ...el.querySelectorAll("*")].map((e) => { const s = getComputedStyle(e); return [s.stroke, s.strokeWidth, s.fill].join("|"); }).join(";");
  const GRID = [.5, .05, .2, .35, .65, .8, .95].flatMap((x) => [.5, .05, .2, .35, .65, .8, .95].map((y) => [x, y]));
  const bad = [];
  const all = [...document.querySelectorAll("a[href], button, input:not([type=hidden]), select, textarea, summary, [tabindex]")].filter((e) => !e.disabled && e.tabIndex >= 0 && e.getClientRects().length && getComputedStyle(e).visibility !== "hidden");
  for (const el of all) {
    const before = look(el), drawn = el.closest("svg") ? parts(el) : "";
    el.focus({ focusVisible: true });
    if (document.activeElement !== el) continue;
    const now = look(el);
    const name = el.outerHTML.slice(0, 110);
    let holder = el, ring = now;
    if (now.style === "none" || now.width < 2) { // a ring on what holds it
      for (let e = el.parentElement, k = 0; e && k < 3; e = e.parentElement, k += 1) { const s = look(e); if (s.style !== "none" && s.width >= 2) { holder = e; ring = s; break; } }
    }
    if (ring.style === "none" || ring.width < 2) {
      if (drawn && parts(el) !== drawn) continue;
      bad.push(["no ring", name]); continue;
    }
    const around = ground(holder.parentElement || holder);
    const c = contrast(rgba(ring.color).slice(0, 3), around);
    if (c < 3) bad.push([`contrast ${c.toFixed(2)}`, name]);
    el.scrollIntoView({ block: "nearest" });
    const box = el.getBoundingClientRect();
    const seen = GRID.some(([x, y]) => { const at = document.elementFromPoint(box.left + box.width * x, box.top + box.height * y); return at && (at === el || el.contains(at) || at.contains(el) || at.closest("label") === el.closest("label") && at.closest("label")); });
    if (!seen) bad.push(["hidden", name]);
    for (let e = holder.parentElement; e && e !== document.body; e = e.parentElement) { // a ring that is cut off
      const s = getComputedStyle(e);
      if (!/hidden|auto|scroll|clip/.test(s.overflow + s.overflowX + s.overflowY) || e.tagName === "svg") continue;
      const b = e.getBoundingClientRect(), h = holder.getBoundingClientRect(), out = ring.offset + ring.width;
      const cut = [h.left - out < b.left - .5, h.right + out > b.right + .5, h.top - out < b.top - .5, h.bottom + out > b.bottom + .5].filter(Boolean).length;
      if (cut > 1) bad.push([`cut on ${cut} sides by ${e.className || e.tagName}`, name]);
      break;
    }
  }
  return [all.length, bad];
}
