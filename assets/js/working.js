// The dialog that shows how a figure was computed: asked for by a figure, and only then opened.
import { $ } from "./dom.js";

const dialog = () => $("#working");

export function opened() {
  const d = dialog();
  if (d && d.dataset.fresh !== undefined && d.firstElementChild && !d.open) d.showModal();
}

document.addEventListener("click", (e) => {
  const d = dialog();
  if (e.target.closest("[data-working]") && d) d.dataset.fresh = "";
  if (e.target.closest("[data-close]") || (d && e.target === d)) {
    delete d.dataset.fresh;
    d.close();
    d.replaceChildren();
  }
});
document.addEventListener(
  "close",
  (e) => {
    if (e.target.id !== "working") return;
    delete e.target.dataset.fresh;
    e.target.replaceChildren();
  },
  true,
);
