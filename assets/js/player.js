import { $ } from "./dom.js";

// A day is played on the drawing by the minute that the time bar shows.
let minute = -1,
  running = 0;
export function played(d, drawn) {
  const chart = drawn[0];
  const bar = $("#minute"),
    p = d.play;
  const word = (v, unit) =>
    v === null || v === undefined ? "" : Math.round(v).toLocaleString(p.comma ? "de" : "en") + " " + unit;
  const all = (name, f) => document.querySelectorAll(`[data-play="${name}"]`).forEach(f);
  const say = (name, t) =>
    all(name, (e) => {
      e.textContent = t;
    });
  const see = (name, on) => all(name, (e) => e.setAttribute("visibility", on ? "visible" : "hidden"));
  const clock = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit", timeZone: d.zone });
  const show = (i) => {
    minute = i;
    const a = (p.profile[i] * Math.PI) / 180,
      sun = d.sun[i],
      on = p.stages[i] > 0;
    all("sun", (g) => {
      const cx = +g.dataset.cx,
        cy = +g.dataset.cy,
        r = +g.dataset.r;
      const dx = -Math.cos(a),
        dy = -Math.sin(a),
        lit = sun > 1 && p.profile[i] > 0;
      g.setAttribute("visibility", lit ? "visible" : "hidden");
      g.setAttribute("opacity", Math.max(0.25, Math.min(1, sun / 700)).toFixed(2));
      const disc = g.querySelector("circle");
      disc.setAttribute("cx", cx + r * dx);
      disc.setAttribute("cy", cy + r * dy);
      g.querySelectorAll("line").forEach((l) => {
        l.setAttribute("x1", +l.dataset.x + 0.55 * r * dx);
        l.setAttribute("y1", +l.dataset.y + 0.55 * r * dy);
      });
    });
    all("plate", (e) => e.setAttribute("stroke-opacity", Math.max(0, Math.min(1, (p.plate[i] - 15) / 60)).toFixed(2)));
    see("coat", p.coat[i]);
    see("moving", on);
    say("clock", clock.format(new Date(d.t[i] * 1e3)));
    say("sunword", "sun " + word(sun, p.irradiance));
    say("outdoors", "outdoors " + word(d.outdoor[i], d.unit));
    say("feels", "thermostat " + word(d.expected[i], d.unit));
    say("platewarm", "absorber " + word(p.plateShown[i], d.unit));
    say("in", (on ? "in " : "room ") + word(d.inlet[i], d.unit));
    say("out", on ? "out " + word(d.outlet[i], d.unit) : "");
    say("heat", on ? word(p.heat[i], p.power) : "");
    const fan = p.fan ? (on ? "fan on" : "fan off") : on ? "natural draft" : "no airflow";
    say("fan", fan);
    if (bar) {
      bar.value = i;
      bar.setAttribute(
        "aria-valuetext",
        clock.format(new Date(d.t[i] * 1e3)) + ", " + fan + (on ? ", out " + word(d.outlet[i], d.unit) : ""),
      );
    }
    rules.forEach((r, k) => {
      r.style.left = drawn[k].valToPos(d.t[i], "x") + "px";
    });
  };
  const last = d.t.length - 1;
  const rules = drawn.map((u) => {
    const r = document.createElement("div");
    r.className = "now";
    u.over.append(r);
    return r;
  });
  chart.hooks.setScale = [...(chart.hooks.setScale || []), () => show(minute)];
  show(minute >= 0 && minute <= last ? minute : Math.floor(last / 2));
  if (bar)
    bar.addEventListener("input", () => {
      stop();
      show(+bar.value);
    });
  const button = $("#play");
  const stop = () => {
    cancelAnimationFrame(running);
    running = 0;
    if (button) {
      button.textContent = "play";
      button.setAttribute("aria-pressed", "false");
    }
  };
  if (button)
    button.addEventListener("click", () => {
      if (running) {
        stop();
        return;
      }
      if (minute >= last) minute = 0;
      button.textContent = "hold";
      button.setAttribute("aria-pressed", "true");
      let from = performance.now(),
        at = minute;
      const frame = (now) => {
        // a day in about twenty seconds
        if (!button.isConnected) {
          running = 0;
          return;
        }
        at += ((now - from) * last) / 20000;
        from = now;
        show(Math.min(last, Math.floor(at)));
        if (at >= last) stop();
        else running = requestAnimationFrame(frame);
      };
      running = requestAnimationFrame(frame);
    });
  if (p.on !== null) handles(d, chart);
}

// The switch's points stand on the chart's own scale; moved, they are written
// into their field at the side, so that one way checks and saves them.
let held = "";
function handles(d, chart) {
  const at = { close: d.play.on, open: d.play.off };
  document.querySelectorAll("[data-point]").forEach((h) => {
    const point = h.dataset.point,
      field = $(`#f-switch-${point}_c`);
    const place = () => {
      h.style.top = chart.over.offsetTop + chart.valToPos(at[point], "y") + "px";
      h.style.left = chart.over.offsetLeft + "px";
      h.style.width = chart.over.clientWidth + "px";
      h.setAttribute("aria-valuenow", at[point]);
      h.setAttribute("aria-valuetext", at[point] + " " + d.unit);
      h.dataset.value = at[point] + " " + d.unit;
    };
    let later = 0;
    const set = (v, wait) => {
      at[point] = Math.round(v);
      place();
      clearTimeout(later);
      later = setTimeout(() => {
        if (!field) return;
        held = point;
        field.value = at[point] + " " + d.unit;
        field.dispatchEvent(new Event("input", { bubbles: true }));
      }, wait);
    };
    place();
    if (held === point) {
      h.focus({ preventScroll: true });
      held = "";
    }
    h.addEventListener("keydown", (e) => {
      const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 5, PageDown: -5 }[e.key];
      if (by) {
        e.preventDefault();
        set(at[point] + by, 250);
      }
    });
    h.addEventListener("pointerdown", (e) => {
      h.setPointerCapture(e.pointerId);
      const from = e.clientY,
        was = at[point],
        per = chart.posToVal(0, "y") - chart.posToVal(1, "y");
      const move = (m) => {
        at[point] = Math.round(was - (m.clientY - from) * per);
        place();
      };
      h.addEventListener("pointermove", move);
      h.addEventListener(
        "pointerup",
        () => {
          h.removeEventListener("pointermove", move);
          if (at[point] !== was) set(at[point], 0);
        },
        { once: true },
      );
    });
    chart.hooks.setSize = [...(chart.hooks.setSize || []), place];
  });
}
