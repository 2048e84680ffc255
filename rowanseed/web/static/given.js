// A file that is dropped anywhere on a page, or a picture that is pasted: it goes into the page's own field for such a file, to be
// sent with its button. A pattern file for which the page has no field is sent to be read; nothing of it is kept before one says so.
(() => {
  const PATTERN = /\.(pdf|svg|dxf|json)$/i;
  const place = () => document.querySelector("[data-given-words]");
  const say = (words) => { place().textContent = words; place().hidden = !words; };
  const takes = (field, file) => {
    const accepted = field.accept.split(",").map((one) => one.trim().toLowerCase()).filter(Boolean);
    return !accepted.length || accepted.some((one) => (one.startsWith(".") ? file.name.toLowerCase().endsWith(one) : one.endsWith("/*") ? file.type.startsWith(one.slice(0, -1)) : file.type === one));
  };
  const shown = (field) => {
    for (let fold = field.closest("details"); fold; fold = fold.parentElement.closest("details")) fold.open = true;
    return !field.disabled && field.getClientRects().length > 0;
  };
  const put = (field, files) => {
    const held = new DataTransfer();
    (field.multiple ? files : files.slice(0, 1)).forEach((file) => held.items.add(file));
    field.files = held.files;
    field.dispatchEvent(new Event("change", { bubbles: true }));
    field.focus();
    field.scrollIntoView({ block: "center" });
    const label = field.labels && field.labels[0] ? field.labels[0].textContent.trim() : "the field";
    say(`${[...held.files].map((file) => file.name).join(", ")} stands in “${label}”. Send it with the button there.`);
  };
  const send = (files) => {
    const form = document.createElement("form");
    form.method = "post"; form.action = "/patterns/intake"; form.enctype = "multipart/form-data"; form.hidden = true;
    const field = document.createElement("input");
    field.type = "file"; field.name = "file"; field.multiple = true;
    form.append(field); document.body.append(form);
    const held = new DataTransfer();
    files.forEach((file) => held.items.add(file));
    field.files = held.files;
    form.submit();
  };
  const given = (files) => {
    const fields = [...document.querySelectorAll("main input[type=file]")];
    const field = fields.find((one) => files.every((file) => takes(one, file)) && shown(one));
    if (field) put(field, files);
    else if (files.some((file) => PATTERN.test(file.name))) send(files);
    else if (files.every((file) => file.type.startsWith("image/"))) say("This page has no place for a picture. Open the pattern, the cloth or the make that it is of; a pattern's tissue is taken in under Patterns.");
    else say("This is no file that a page here takes: patterns come as PDF, SVG, DXF or a Rowanseed file.");
  };
  const carries = (event) => event.dataTransfer && [...event.dataTransfer.types].includes("Files");
  document.addEventListener("dragover", (event) => { if (carries(event)) { event.preventDefault(); document.body.classList.add("given-over"); } });
  document.addEventListener("dragleave", (event) => { if (!event.relatedTarget) document.body.classList.remove("given-over"); });
  document.addEventListener("drop", (event) => {
    document.body.classList.remove("given-over");
    if (!carries(event) || (event.target.matches && event.target.matches("input[type=file]"))) return;
    event.preventDefault();
    if (event.dataTransfer.files.length) given([...event.dataTransfer.files]);
  });
  document.addEventListener("paste", (event) => {
    const files = event.clipboardData ? [...event.clipboardData.files] : [];
    if (!files.length) return;
    event.preventDefault();
    given(files);
  });
})();
