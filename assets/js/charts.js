// The charts of a day: a log's readings, or a simulated day that is also played on the drawing.
import { $, color } from "./dom.js";
import { played } from "./player.js";

let drawn = [];

export async function charts() {
  const box = $("#chart");
  if (!box || box.dataset.drawn) return;
  box.dataset.drawn = "1";
  const r = await fetch(box.dataset.url, { credentials: "same-origin" }).catch(() => null); // the page was left
  if (!r) return;
  if (!r.ok) {
    box.textContent = "The readings could not be loaded; load the page again.";
    return;
  }
  const d = await r.json();
  const ink = color("--ink"),
    rule = color("--rule");
  const face = "12px 'Spline Sans Mono', monospace";
  const tz = (ts) => uPlot.tzDate(new Date(ts * 1e3), d.zone);
  const axis = (extra) => ({
    stroke: ink,
    font: face,
    grid: { stroke: rule, width: 1 },
    ticks: { stroke: ink, width: 1, size: 5 },
    ...extra,
  });
  const shade = (u) => {
    const c = u.ctx,
      y = u.bbox.top,
      h = u.bbox.height;
    c.save();
    c.fillStyle = color("--ember");
    c.globalAlpha = 0.09;
    for (const [a, b] of d.runs)
      c.fillRect(u.valToPos(a, "x", true), y, Math.max(1, u.valToPos(b, "x", true) - u.valToPos(a, "x", true)), h);
    c.restore();
    c.save();
    c.fillStyle = color("--soft");
    c.globalAlpha = 0.3;
    for (const [a, b] of d.left ?? []) {
      const from = Math.max(u.bbox.left, u.valToPos(a, "x", true)),
        to = Math.min(u.bbox.left + u.bbox.width, u.valToPos(b, "x", true));
      if (to > from) c.fillRect(from, y, to - from, h);
    }
    c.restore();
    c.save();
    c.strokeStyle = ink;
    c.setLineDash([3, 4]);
    for (const g of d.gaps)
      for (const t of g) {
        const x = u.valToPos(t, "x", true);
        if (x < u.bbox.left || x > u.bbox.left + u.bbox.width) continue;
        c.beginPath();
        c.moveTo(x, y);
        c.lineTo(x, y + h);
        c.stroke();
      }
    c.restore();
  };
  const time = [
    [3600, "{HH}:{mm}", null, null, null, null, null, null, 1],
    [60, "{HH}:{mm}", null, null, null, null, null, null, 1],
  ];
  // Points that one drags stay on the chart.
  const reach = (f, v) => (d.play && d.play.on !== null ? f(v, d.play.on, d.play.off) : v);
  const common = (el, height) => ({
    width: el.clientWidth,
    height,
    tzDate: tz,
    ms: 1e-3,
    cursor: { sync: { key: "day" }, drag: { x: true, y: false } },
    legend: { show: false },
    hooks: { drawClear: [shade], setSelect: [(u) => mark(u, tz)] },
  });
  drawn = [
    new uPlot(
      {
        ...common(box, 300),
        axes: [axis({ values: time, space: 60 }), axis({ size: 54, values: (u, v) => v.map((x) => x + " " + d.unit) })],
        scales: { y: { range: (u, lo, hi) => uPlot.rangeNum(reach(Math.min, lo), reach(Math.max, hi), 0.08, true) } },
        series: [
          {},
          { stroke: color("--cold"), width: 2 },
          { stroke: color("--ember"), width: 2.2 },
          { stroke: color("--soft"), width: 1.4, dash: [2, 4] },
          { stroke: ink, width: 1.8, dash: [7, 5], spanGaps: true, points: { show: false } },
        ],
      },
      [d.t, d.inlet, d.outlet, d.outdoor, d.expected],
      box,
    ),
  ];
  const low = $("#sunchart");
  if (low && d.sunIs) {
    drawn.push(
      new uPlot(
        {
          ...common(low, 110),
          axes: [axis({ values: time, space: 60 }), axis({ size: 54, splits: () => [0, 500, 1000] })],
          scales: { y: { range: (u, lo, hi) => [0, Math.max(1000, hi * 1.05)] } },
          series: [
            {},
            { stroke: color("--sun"), width: 2, fill: color("--sun") + "44", dash: d.sunIs === "measured" ? [] : [6, 4] },
          ],
        },
        [d.t, d.sun],
        low,
      ),
    );
  }
  new ResizeObserver(() =>
    drawn.forEach((u) => {
      const w = u.root.parentElement.clientWidth;
      if (w && w !== u.width) u.setSize({ width: w, height: u.height });
    }),
  ).observe(box);
  if (d.play) played(d, drawn);
  box.dataset.ready = "1";
}

// What is dragged over is the stretch that may be excluded.
function mark(u, tz) {
  const from = $("#span-from"),
    to = $("#span-to");
  if (!from || !to || u.select.width < 3) return;
  const at = (px) => {
    const t = tz(u.posToVal(px, "x"));
    return String(t.getHours()).padStart(2, "0") + ":" + String(t.getMinutes()).padStart(2, "0");
  };
  from.value = at(u.select.left);
  to.value = at(u.select.left + u.select.width);
}

// On touch the whole day comes back.
document.addEventListener("click", (e) => {
  if (e.target.closest("[data-whole]")) drawn.forEach((u) => u.setScale("x", { min: u.data[0][0], max: u.data[0].at(-1) }));
});
