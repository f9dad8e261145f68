import { $ } from "./dom.js";

// What stands on the horizon is drawn over the sun's tracks from corner to corner; it goes
// as a line into the field at the side, so that one way checks and saves it.
let drawing = "";
document.addEventListener("click", (e) => {
  const b = e.target.closest("[data-draw]");
  if (!b) return;
  drawing = drawing === b.dataset.draw ? "" : b.dataset.draw;
  document.querySelectorAll("[data-draw]").forEach((x) => x.setAttribute("aria-pressed", x.dataset.draw === drawing));
  const hint = $("#draw-hint");
  if (hint)
    hint.textContent = drawing ? "drag over the sky from one end to the other, as high as it stands; or enter it under “Shade”" : "";
  const h = $("#horizon");
  if (h) h.classList.toggle("drawing", drawing !== "");
});
document.addEventListener("pointerdown", (e) => {
  const svg = drawing && e.target.closest("#horizon svg.tracks");
  if (!svg) return;
  e.preventDefault();
  const k = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width,
    g = (n) => +svg.dataset[n];
  const at = (m) => {
    const r = svg.getBoundingClientRect();
    return [
      Math.max(g("left"), Math.min(g("right"), (m.clientX - r.left) * k)),
      Math.max(g("top"), Math.min(g("base"), (m.clientY - r.top) * k)),
    ];
  };
  const az = (x) => Math.round((g("center") + ((x - g("left")) / (g("right") - g("left"))) * 260 - 130 + 720) % 360);
  const high = (y) => Math.round(((g("base") - y) / (g("base") - g("top"))) * g("high"));
  const [x0] = at(e),
    hint = $("#draw-hint");
  let x1 = x0,
    y1 = g("base");
  const rect = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  rect.setAttribute("class", "obstacle " + drawing);
  svg.append(rect);
  svg.setPointerCapture(e.pointerId);
  const move = (m) => {
    [x1, y1] = at(m);
    rect.setAttribute("x", Math.min(x0, x1));
    rect.setAttribute("width", Math.abs(x1 - x0));
    rect.setAttribute("y", y1);
    rect.setAttribute("height", g("base") - y1);
    if (hint) hint.textContent = `${az(Math.min(x0, x1))}° to ${az(Math.max(x0, x1))}°, ${high(y1)}° high`;
  };
  svg.addEventListener("pointermove", move);
  svg.addEventListener(
    "pointerup",
    () => {
      svg.removeEventListener("pointermove", move);
      rect.remove();
      const field = $("#f-shade-horizon");
      if (!field || Math.abs(x1 - x0) < 4 || high(y1) < 1) return;
      field.value = field.value.trim() + `\n${az(Math.min(x0, x1))} to ${az(Math.max(x0, x1))}: ${high(y1)}, ${drawing}`;
      field.dispatchEvent(new Event("change", { bubbles: true }));
    },
    { once: true },
  );
});
