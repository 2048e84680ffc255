// Four corners marked on a photograph: a tap sets the next one, and the fields beside it say where it lies.
document.addEventListener("DOMContentLoaded", () => {
  const form = document.getElementById("corners");
  if (!form) return;
  const svg = form.querySelector("svg"), shape = form.querySelector("[data-shape]");
  const field = (axis, k) => form.elements[`${axis}${k}`];
  let next = [0, 1, 2, 3].find((k) => !field("x", k).value) ?? 0;
  const draw = () => {
    const places = [0, 1, 2, 3].filter((k) => field("x", k).value && field("y", k).value);
    shape.setAttribute("points", places.map((k) => `${field("x", k).value},${field("y", k).value}`).join(" "));
    form.querySelectorAll("[data-corner]").forEach((dot, k) => {
      const set = field("x", k).value && field("y", k).value;
      dot.setAttribute("visibility", set ? "visible" : "hidden");
      if (set) dot.setAttribute("transform", `translate(${field("x", k).value} ${field("y", k).value})`);
    });
  };
  svg.addEventListener("pointerdown", (event) => {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    field("x", next).value = Math.round(point.x);
    field("y", next).value = Math.round(point.y);
    next = (next + 1) % 4;
    draw();
  });
  form.addEventListener("focusin", (event) => {
    const k = /^[xy](\d)$/.exec(event.target.name || "");
    if (k) next = Number(k[1]);
  });
  form.addEventListener("input", draw);
  draw();
});
