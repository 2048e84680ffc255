// A piece on a shop's shelf against what every pattern takes: figures that were worked out before are only compared here.
(() => {
  const place = document.querySelector("[data-shelf]");
  if (!place) return;
  const known = JSON.parse(place.dataset.shelf);
  const form = document.querySelector("[data-piece]");
  const answer = form.querySelector("[data-answer]");
  const HANDS = 1, SAME = 35;
  const say = (mm) => window.rowanLength.say(mm, known.unit, known.comma);
  const value = (name) => window.rowanLength.read(form.elements.namedItem(name).value, known.unit);
  const put = (parent, name, words, css) => {
    const part = document.createElement(name);
    if (words) part.textContent = words;
    if (css) part.className = css;
    parent.append(part);
    return part;
  };

  // What a size takes on a piece this wide: surely enough from `most` on, surely not under `least`, as laid or printed at `near`.
  const judged = (takes, wide, long) => {
    const fits = takes.filter((one) => one.width <= wide + HANDS);
    const enough = fits.reduce((best, one) => (!best || one.most < best.most ? one : best), null);
    const least = takes.filter((one) => one.width >= wide - HANDS).reduce((most, one) => Math.max(most, one.least), 0);
    const near = fits.filter((one) => one.by !== "bounds" && wide - one.width <= SAME).sort((a, b) => b.width - a.width)[0];
    const rough = enough && (enough.by === "envelope" || enough.by === "area") ? "about " : "";
    if (!takes.length) return { state: "unknown", words: "neither its pieces nor a printed length are there" };
    if (!enough) return { state: "unknown", words: `the narrowest width that is known is ${say(Math.min(...takes.map((one) => one.width)))}` };
    if (enough.most <= long) {
      const left = say(long - enough.most);
      return { state: "enough", words: enough.by === "bounds" ? `at least ${left} left` : `${rough}${left} left` };
    }
    if (near) return { state: "short", words: `${rough}${say(near.most - long)} missing` };
    if (least > long) return { state: "short", words: `it takes no less than ${say(least)}` };
    return { state: "open", words: `surely enough from ${say(enough.most)}${least ? `, surely not under ${say(least)}` : ""}` };
  };

  const told = (row, wide, long, oneWay) => {
    const takes = row.takes.filter((one) => one[1] === oneWay)
      .map(([size, , width, least, most, by]) => ({ size, width, least, most, by }));
    const sizes = [...new Set(takes.map((one) => one.size))];
    const asked = sizes.includes(row.size) || !sizes.length ? row.size : sizes[0];
    const own = judged(takes.filter((one) => one.size === asked), wide, long);
    const others = sizes.filter((size) => size !== asked && judged(takes.filter((one) => one.size === size), wide, long).state === "enough");
    return { row, size: asked, others, ...own };
  };

  const ORDER = ["enough", "open", "short", "unknown"];
  const MARK = { enough: "Enough", open: "Perhaps", short: "Too short", unknown: "Not known" };
  const show = () => {
    const wide = value("width"), cut = value("length");
    const fields = ["width", "length"].map((name) => [form.elements.namedItem(name), value(name)]);
    fields.forEach(([field, mm]) => {
      const understood = document.getElementById(`heard-${field.name}`);
      understood.textContent = mm ? say(mm) : field.value.trim() ? "not a length: write it like 1.5 m, 54 in or 1 3/8 yd" : "";
      understood.className = mm ? "echo" : "field-error";
    });
    answer.replaceChildren();
    if (!wide || !cut) return;
    const shrink = form.elements.namedItem("washed").checked ? 0 : known.shrink / 100;
    const long = (cut - known.straighten) * (1 - shrink);
    // A make's own lay on a wider cloth says nothing of this piece: its pattern's line does.
    const rows = known.rows.map((row) => told(row, wide, long, form.elements.namedItem("one_way").checked))
      .filter((one) => one.size || one.state !== "unknown");
    rows.sort((a, b) => ORDER.indexOf(a.state) - ORDER.indexOf(b.state) || (b.row.makes.length > 0) - (a.row.makes.length > 0));
    const lost = [known.straighten ? "is straightened" : "", shrink ? `has shrunk by ${known.shrink} %` : ""].filter(Boolean);
    const when = lost.length ? `, once it ${lost.join(" and ")}` : "";
    put(answer, "p", `Of ${say(cut)} there are ${say(Math.max(long, 0))} to lay on${when}. ${price(cut)}`, "small soft");
    const list = put(answer, "ul", "", "shelf-told");
    rows.forEach((one) => {
      const line = put(list, "li", "", one.state);
      put(line, "b", MARK[one.state]);
      const text = put(line, "span");
      put(text, "span", one.size ? `${one.row.title}, size ${one.size}: ` : `${one.row.title}: `);
      put(text, "span", `${one.words}.`);
      const more = [];
      if (one.others.length) more.push(`enough in ${one.others.join(", ")} too`);
      if (one.row.makes.length) more.push(`for ${one.row.makes.join(", ")}`);
      if (more.length) { put(text, "br"); put(text, "span", more.join("; "), "small soft"); }
    });
  };
  const price = (cut) => {
    const typed = form.elements.namedItem("price").value.trim();
    const number = /\d+(?:[.,]\d+)?/.exec(typed);
    if (!number) return "";
    const per = Number(number[0].replace(",", ".")) / (cut / (known.unit === "in" ? 914.4 : 1000));
    const written = per.toFixed(2);
    return `That is ${typed.replace(number[0], known.comma ? written.replace(".", ",") : written)} a ${known.unit === "in" ? "yard" : "metre"}.`;
  };
  form.addEventListener("input", show);
  form.addEventListener("submit", (event) => {
    if (value("width") && value("length")) return;
    event.preventDefault(); event.stopImmediatePropagation();
    show();
    (value("width") ? form.elements.namedItem("length") : form.elements.namedItem("width")).focus();
  }, true);
  show();
})();

// What was bought instead: a length that can not be read is told before it is kept, since nobody else can tell it without a connection.
document.querySelectorAll("form[data-bought]").forEach((form) => {
  const unit = form.dataset.bought;
  form.addEventListener("submit", (event) => {
    const wrong = [...form.querySelectorAll("[data-length]")].find((field) => field.value.trim() && !window.rowanLength.read(field.value, unit));
    form.querySelector("[data-wrong]").textContent = wrong ? `“${wrong.value.trim()}” is not a length: write it like 1.5 m, 54 in or 1 3/8 yd.` : "";
    if (!wrong) return;
    event.preventDefault(); event.stopImmediatePropagation();
    wrong.focus();
  }, true);
});
