// Keys: undo and redo outside a field, and those that the list under "?" shows.
import { $ } from "./dom.js";

const typing = (e) => e.target.matches("input, select, textarea");

document.addEventListener("keydown", (e) => {
  if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "z" || typing(e)) return;
  const button = $(e.shiftKey ? "#redo" : "#undo");
  if (!button || button.disabled) return;
  e.preventDefault();
  button.click();
});

// open unfolds what an element is folded into.
export function open(element) {
  for (let d = element?.closest("details:not([open])"); d; d = d.parentElement?.closest("details:not([open])")) d.open = true;
}

document.addEventListener("keydown", (e) => {
  if (e.ctrlKey || e.metaKey || e.altKey || typing(e) || $("dialog[open]")) return;
  const links = [...document.querySelectorAll("#stations a.station-link")];
  const at = links.findIndex((r) => r.hasAttribute("aria-current"));
  const go = (el) => {
    if (el) {
      e.preventDefault();
      el.click();
    }
  };
  const to = (el) => {
    if (!el) return;
    e.preventDefault();
    open(el);
    el.focus();
    el.scrollIntoView({ block: "center" });
  };
  switch (e.key) {
    case "?":
      if ($("#keys")) {
        e.preventDefault();
        $("#keys").showModal();
      }
      break;
    case "n":
      go(links[at + 1]);
      break;
    case "b":
      go(links[at - 1]);
      break;
    case "t":
      to($("#side .field input:not([type=hidden]), #side .field select, #side .field textarea"));
      break;
    case "f":
      to($(".findings button.try, .findings summary"));
      break;
    case "h":
      go($("#fig-heat"));
      break;
    case "s":
      go($("#beside"));
      break;
  }
});
document.addEventListener("click", (e) => {
  const d = $("#keys");
  if (d && (e.target === d || e.target.closest("[data-close-keys]"))) d.close();
});

// A link to a field opens the group that it is in.
document.addEventListener(
  "click",
  (e) => {
    const link = e.target.closest("a");
    const href = link && (link.getAttribute("href") || "");
    if (href && href.startsWith("#f-")) open(document.getElementById(href.slice(1)));
  },
  true,
);
