import { $ } from "./dom.js";

// A piece of the air's way is dragged to the other side of the box, the fan to the other end.
let dragged = false;
document.addEventListener(
  "click",
  (e) => {
    if (dragged && e.target.closest("#air-route")) {
      e.preventDefault();
      dragged = false;
    }
  },
  true,
);
document.addEventListener("pointerdown", (e) => {
  const piece = e.target.closest("#air-route [data-piece], #air-route [data-fan]");
  if (!piece) return;
  e.preventDefault();
  const svg = piece.closest("svg"),
    mid = svg.querySelector("[data-mid]");
  const middle = mid.getBoundingClientRect().left,
    from = e.clientX;
  dragged = false;
  const move = (m) => {
    dragged = dragged || Math.abs(m.clientX - from) > 6;
    piece.setAttribute(
      "transform",
      `translate(${((m.clientX - from) * svg.viewBox.baseVal.width) / svg.getBoundingClientRect().width} 0)`,
    );
  };
  document.addEventListener("pointermove", move);
  document.addEventListener(
    "pointerup",
    (u) => {
      document.removeEventListener("pointermove", move);
      piece.removeAttribute("transform");
      if (from < middle === u.clientX < middle || !dragged) return;
      if (piece.dataset.fan) {
        $("#fan-side").click();
        return;
      }
      const field = document.getElementById("f-" + piece.dataset.piece.replaceAll(".", "-"));
      if (!field) return;
      const all = +document.getElementById(field.id.replace("_before", "")).value,
        by = piece.dataset.side === "before" ? -1 : 1;
      field.value = Math.max(0, Math.min(all, +field.value + by));
      field.dispatchEvent(new Event("input", { bubbles: true }));
    },
    { once: true },
  );
});
