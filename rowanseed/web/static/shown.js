// What a page showed of the things that it can change: kept right while parts of the page are drawn anew.
// A mark is "table-number-state"; the server answers each change with the mark of the thing as it stands now.
"use strict";
(() => {
  const about = [[/^\/makes\/(\d+)\//, "make"], [/^\/patterns\/(?:intake|trace)\/(\d+)\//, "intake"], [/^\/patterns\/(\d+)\//, "pattern"],
    [/^\/cloths\/(\d+)\//, "cloth"], [/^\/people\/(\d+)\//, "person"]];
  const start = (mark) => mark.split("-").slice(0, 2).join("-") + "-";
  const marks = new Map();

  function note(mark) {
    marks.set(start(mark), mark);
    document.querySelectorAll("input[name=shown]").forEach((field) => {
      if (!field.value.startsWith(start(mark))) return;
      field.value = mark;
      const version = field.form && field.form.querySelector("input[name=version]");
      if (version) version.value = mark.split("-")[2];
    });
  }

  function shownOf(path) {
    for (const [pattern, table] of about) {
      const found = pattern.exec(path);
      if (!found) continue;
      const begins = `${table}-${found[1]}-`;
      const field = document.querySelector(`input[name=shown][value^="${begins}"]`);
      return marks.get(begins) || (field ? field.value : "");
    }
    return "";
  }

  document.addEventListener("htmx:configRequest", (event) => {
    if (event.detail.verb !== "post") return;
    const mark = shownOf(new URL(event.detail.path, window.location.href).pathname);
    if (mark) event.detail.headers["X-Shown"] = mark;
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    const mark = event.detail.xhr && event.detail.xhr.getResponseHeader("X-Shown");
    if (mark) note(mark);
  });
})();
