// Forms: files that leave as they are chosen, the stock's form, and groups of fields that stay open or closed.
import { $, all } from "./dom.js";

document.addEventListener("change", (e) => {
  if (e.target.matches("input[type=file][data-send]") && e.target.files.length) e.target.form.requestSubmit();
});

// The stock's form holds what the answer says: nothing, what was refused, or what was removed.
document.addEventListener("stocked", () =>
  setTimeout(() => {
    const form = $(".thing-form");
    if (!form) return;
    form.reset();
    if (!$("#thing-error")) $("#thing-size").focus();
  }, 30),
);

// Groups that a person opened or closed stay so, while the page changes and when it comes again.
const shelf = "ember-open";
const kept = () => {
  try {
    return JSON.parse(sessionStorage.getItem(shelf)) || {};
  } catch {
    return {};
  }
};

document.addEventListener(
  "toggle",
  (e) => {
    if (!e.target.matches("details[data-keep-open]")) return;
    if (e.target.dataset.set === String(e.target.open)) {
      delete e.target.dataset.set;
      return;
    } // by us
    sessionStorage.setItem(shelf, JSON.stringify({ ...kept(), [e.target.id]: e.target.open }));
  },
  true,
);

export function keepOpen() {
  const state = kept();
  all("details[data-keep-open]", (d) => {
    const wanted = state[d.id] ?? d.open;
    if (d.open === wanted || $(".msg", d)) return;
    d.dataset.set = String(wanted);
    d.open = wanted;
  });
}
