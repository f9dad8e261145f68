// The stopwatch beside a time to enter: a touch starts it, the next one writes the seconds into the next free field.
import { $ } from "./dom.js";

const running = new Map(); // by what is timed: when it began, and the tick that shows it

document.addEventListener("click", (e) => {
  const button = e.target.closest("[data-watch]");
  if (!button) return;
  const what = button.dataset.watch;
  const on = running.get(what);
  if (!on) {
    const from = performance.now();
    const tick = setInterval(() => {
      button.textContent = `Stop: ${((performance.now() - from) / 1000).toFixed(1)} s`;
    }, 100);
    running.set(what, { from, tick });
    return;
  }
  clearInterval(on.tick);
  running.delete(what);
  button.textContent = "Start the watch";
  const fields = [...document.querySelectorAll(`#ask-${what} input`)];
  const free = fields.find((f) => !f.value) ?? fields.at(-1);
  if (!free) return;
  free.value = ((performance.now() - on.from) / 1000).toFixed(1) + " s";
  free.dispatchEvent(new Event("input", { bubbles: true }));
  $("#verdict")?.scrollIntoView({ block: "nearest" });
});
