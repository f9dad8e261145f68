// What the pages need beyond htmx: the working's dialog, files that leave as
// they are chosen, the town one picks, and the log's charts.
(() => {
  "use strict";
  const $ = (s, r = document) => r.querySelector(s);

  document.addEventListener("htmx:after:swap", () => {
    const d = $("#working");
    if (d && d.dataset.fresh !== undefined && d.firstElementChild && !d.open) d.showModal();
    charts();
  });
  // A working is asked for by a figure; only then does its dialog open.
  document.addEventListener("click", (e) => {
    const d = $("#working");
    if (e.target.closest("[data-working]") && d) d.dataset.fresh = "";
    if (e.target.closest("[data-close]") || e.target === d) {
      delete d.dataset.fresh;
      d.close();
      d.replaceChildren();
    }
    const town = e.target.closest("[data-town]");
    if (town) {
      $("#town_id").value = town.dataset.town;
      $("#town").value = town.dataset.label;
      $("#town-list").replaceChildren();
      htmx.trigger($("#facts"), "facts");
    }
    const whole = e.target.closest("[data-whole]");
    if (whole) drawn.forEach((u) => u.setScale("x", { min: u.data[0][0], max: u.data[0].at(-1) }));
  });
  document.addEventListener("close", (e) => { if (e.target.id === "working") { delete e.target.dataset.fresh; e.target.replaceChildren(); } }, true);
  document.addEventListener("change", (e) => {
    if (e.target.matches("input[type=file][data-send]") && e.target.files.length) e.target.form.requestSubmit();
  });
  // Ctrl+Z outside a field takes the last edit back, with shift does it again.
  document.addEventListener("keydown", (e) => {
    if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "z" || e.target.matches("input, select, textarea")) return;
    const b = $(e.shiftKey ? "#redo" : "#undo");
    if (b && !b.disabled) { e.preventDefault(); b.click(); }
  });

  let drawn = [];
  const colour = (name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

  async function charts() {
    const box = $("#chart");
    if (!box || box.dataset.drawn) return;
    box.dataset.drawn = "1";
    const r = await fetch(box.dataset.url, { credentials: "same-origin" });
    if (!r.ok) { box.textContent = "The readings could not be fetched; load the page again."; return; }
    const d = await r.json();
    const ink = colour("--ink"), rule = colour("--rule");
    const face = "12px 'Spline Sans Mono', monospace";
    const tz = (ts) => uPlot.tzDate(new Date(ts * 1e3), d.zone);
    const axis = (extra) => ({ stroke: ink, font: face, grid: { stroke: rule, width: 1 }, ticks: { stroke: ink, width: 1, size: 5 }, ...extra });
    const shade = (u) => {
      const c = u.ctx, y = u.bbox.top, h = u.bbox.height;
      c.save();
      c.fillStyle = colour("--ember");
      c.globalAlpha = 0.09;
      for (const [a, b] of d.runs) c.fillRect(u.valToPos(a, "x", true), y, Math.max(1, u.valToPos(b, "x", true) - u.valToPos(a, "x", true)), h);
      c.restore();
      c.save();
      c.strokeStyle = ink;
      c.setLineDash([3, 4]);
      for (const g of d.gaps) for (const t of g) {
        const x = u.valToPos(t, "x", true);
        if (x < u.bbox.left || x > u.bbox.left + u.bbox.width) continue;
        c.beginPath(); c.moveTo(x, y); c.lineTo(x, y + h); c.stroke();
      }
      c.restore();
    };
    const time = [[3600, "{HH}:{mm}", null, null, null, null, null, null, 1], [60, "{HH}:{mm}", null, null, null, null, null, null, 1]];
    const common = (el, height) => ({
      width: el.clientWidth, height, tzDate: tz, ms: 1e-3,
      cursor: { sync: { key: "day" }, drag: { x: true, y: false } }, legend: { show: false }, hooks: { drawClear: [shade] },
    });
    drawn = [new uPlot({
      ...common(box, 300),
      axes: [axis({ values: time, space: 60 }), axis({ size: 54, values: (u, v) => v.map((x) => x + " " + d.unit) })],
      series: [{}, { stroke: colour("--cold"), width: 2 }, { stroke: colour("--ember"), width: 2.2 }, { stroke: colour("--soft"), width: 1.4, dash: [2, 4] }, { stroke: ink, width: 1.8, dash: [7, 5], spanGaps: true, points: { show: false } }],
    }, [d.t, d.inlet, d.outlet, d.outdoor, d.expected], box)];
    const low = $("#sunchart");
    if (low && d.sunIs) {
      drawn.push(new uPlot({
        ...common(low, 110),
        axes: [axis({ values: time, space: 60 }), axis({ size: 54, splits: () => [0, 500, 1000] })],
        scales: { y: { range: (u, lo, hi) => [0, Math.max(1000, hi * 1.05)] } },
        series: [{}, { stroke: colour("--sun"), width: 2, fill: colour("--sun") + "44", dash: d.sunIs === "measured" ? [] : [6, 4] }],
      }, [d.t, d.sun], low));
    }
    new ResizeObserver(() => drawn.forEach((u) => { const w = u.root.parentElement.clientWidth; if (w && w !== u.width) u.setSize({ width: w, height: u.height }); })).observe(box);
    box.dataset.ready = "1";
  }
  function begin() {
    charts();
    // On a phone the ladder is a strip: the rung one stands on comes into view.
    const here = $("#ladder [aria-current=page]");
    if (here) here.scrollIntoView({ inline: "center", block: "nearest" });
  }
  if (document.readyState === "loading") document.addEventListener("DOMContentLoaded", begin); else begin();
})();
