// The charts of a day: a log's readings, or a simulated day that is also played on the drawing.
import { $, color } from "./dom.js";
import { played } from "./player.js";

let drawn = [];
let shown = null, // what the chart of a log holds
  first = null, // and what it held at first
  asking = null;

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
    const now = shown ?? d;
    const c = u.ctx,
      y = u.bbox.top,
      h = u.bbox.height;
    c.save();
    c.fillStyle = color("--ember");
    c.globalAlpha = 0.09;
    for (const [a, b] of now.runs)
      c.fillRect(u.valToPos(a, "x", true), y, Math.max(1, u.valToPos(b, "x", true) - u.valToPos(a, "x", true)), h);
    c.restore();
    c.save();
    c.fillStyle = color("--soft");
    c.globalAlpha = 0.3;
    for (const [a, b] of now.left ?? []) {
      const from = Math.max(u.bbox.left, u.valToPos(a, "x", true)),
        to = Math.min(u.bbox.left + u.bbox.width, u.valToPos(b, "x", true));
      if (to > from) c.fillRect(from, y, to - from, h);
    }
    c.restore();
    c.save();
    c.strokeStyle = ink;
    c.setLineDash([3, 4]);
    for (const g of now.gaps)
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
  const months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
  const two = (n) => String(n).padStart(2, "0");
  // Times of day, with the date at midnight where there is more than a day; then days; then months.
  const time = (u, splits, _axis, _space, step) => {
    const long = u.scales.x.max - u.scales.x.min > 30 * 3600;
    return splits.map((s) => {
      const t = tz(s);
      const day = t.getDate() + " " + months[t.getMonth()];
      if (step >= 27 * 86400) return months[t.getMonth()] + " " + t.getFullYear();
      if (step >= 86400 || (long && t.getHours() === 0 && t.getMinutes() === 0)) return day;
      return two(t.getHours()) + ":" + two(t.getMinutes());
    });
  };
  // Points that one drags stay on the chart.
  const reach = (f, v) => (d.play && d.play.on !== null ? f(v, d.play.on, d.play.off) : v);
  const common = (el, height) => ({
    width: el.clientWidth,
    height,
    tzDate: tz,
    ms: 1e-3,
    padding: [null, 32, null, null],
    cursor: { sync: { key: "day" }, drag: { x: true, y: false } },
    legend: { show: false },
    hooks: { drawClear: [shade], setSelect: [(u) => closer(u, tz)], setCursor: [(u) => readout(u, d, tz)] },
  });
  const edge = { stroke: "transparent", width: 0, spanGaps: true, points: { show: false } };
  drawn = [
    new uPlot(
      {
        ...common(box, 300),
        axes: [axis({ values: time, space: 64 }), axis({ size: 54, values: (u, v) => v.map((x) => x + " " + d.unit) })],
        scales: { y: { range: (u, lo, hi) => uPlot.rangeNum(reach(Math.min, lo), reach(Math.max, hi), 0.08, true) } },
        series: [
          {},
          { stroke: color("--cold"), width: 2 },
          { stroke: color("--ember"), width: 2.2 },
          { stroke: color("--soft"), width: 1.4, dash: [2, 4] },
          { stroke: ink, width: 1.8, dash: [7, 5], spanGaps: true, points: { show: false } },
          ...(d.low ? [edge, edge, { stroke: color("--ember"), width: 1.8, dash: [9, 3, 2, 3] }] : []),
        ],
        bands: d.low ? [{ series: [6, 5], fill: ink + "1f" }] : [],
      },
      lines(d),
      box,
    ),
  ];
  if (d.notes?.length) drawn[0].hooks.draw = [(u) => pin(u, face, ink)];
  const low = $("#sunchart");
  if (low && d.sunIs) {
    drawn.push(
      new uPlot(
        {
          ...common(low, 110),
          axes: [axis({ values: time, space: 64 }), axis({ size: 54, splits: () => [0, 500, 1000] })],
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
  shown = first = d.to ? d : null;
  if (d.to) drawn.forEach((u) => u.setScale("x", { min: d.from, max: d.to }));
  const note = $("#note-at");
  if (note && d.to)
    drawn[0].over.addEventListener("click", () => {
      const i = drawn[0].cursor.idx;
      if (i != null) note.value = local(tz(shown.t[i]));
    });
  if (d.play) played(d, drawn);
  box.dataset.ready = "1";
}

// lines are the columns of the chart of temperatures.
const lines = (d) =>
  [d.t, d.inlet, d.outlet, d.outdoor, d.expected].concat(d.low ? [d.low, d.high, d.beside ?? d.t.map(() => null)] : []);

// local writes a moment as a form has it.
function local(t) {
  const two = (n) => String(n).padStart(2, "0");
  return `${t.getFullYear()}-${two(t.getMonth() + 1)}-${two(t.getDate())}T${two(t.getHours())}:${two(t.getMinutes())}`;
}

// What is dragged over may be excluded, and is shown closer: with more of its readings where the chart had to leave some out.
function closer(u, tz) {
  if (u.select.width < 3) return;
  const a = u.posToVal(u.select.left, "x"),
    b = u.posToVal(u.select.left + u.select.width, "x");
  const from = $("#span-from"),
    to = $("#span-to");
  if (from && to) {
    from.value = local(tz(a));
    to.value = local(tz(b));
  }
  const whole = $("[data-whole]");
  if (whole) whole.hidden = false;
  if (shown?.step) load(Math.floor(a), Math.ceil(b));
}

// load replaces the readings of the chart by those of a stretch, and leaves its scale.
async function load(from, to) {
  asking?.abort();
  asking = new AbortController();
  const url = new URL($("#chart").dataset.url, location.href);
  url.searchParams.set("from", from);
  url.searchParams.set("to", to);
  const r = await fetch(url, { credentials: "same-origin", signal: asking.signal }).catch(() => null);
  if (!r?.ok) return;
  show(await r.json());
  drawn.forEach((u) => u.setScale("x", { min: from, max: to }));
}

function show(d) {
  shown = d;
  drawn[0].setData(lines(d), false);
  drawn[1]?.setData([d.t, d.sun], false);
}

// readout says in words what the chart shows at the pointer.
function readout(u, _d, tz) {
  const out = $("#readout"),
    i = u.cursor.idx;
  if (!out || i == null || !shown) return;
  const t = tz(shown.t[i]);
  const said = [local(t).slice(11)];
  for (const [name, v] of [
    ["outlet", shown.outlet[i]],
    ["inlet", shown.inlet[i]],
    ["outdoors", shown.outdoor[i]],
  ])
    if (v != null) said.push(`${name} ${v.toFixed(1)} ${shown.unit}`);
  if (shown.sun[i] != null && shown.sunIs) said.push(`sun ${shown.sun[i]} ${shown.irradiance}`);
  out.textContent = said.join(", ");
}

// pin writes the notes at their moments, lower where the one before is too near.
function pin(u, face, ink) {
  const c = u.ctx,
    px = devicePixelRatio;
  c.save();
  c.font = face.replace("12px", 12 * px + "px");
  c.fillStyle = c.strokeStyle = ink;
  c.textAlign = "left";
  c.textBaseline = "alphabetic";
  c.setLineDash([2 * px, 3 * px]);
  const ends = [];
  for (const n of shown?.notes ?? []) {
    const x = u.valToPos(n.t, "x", true);
    if (x < u.bbox.left || x > u.bbox.left + u.bbox.width) continue;
    c.beginPath();
    c.moveTo(x, u.bbox.top);
    c.lineTo(x, u.bbox.top + u.bbox.height);
    c.stroke();
    const text = n.text.length > 34 ? n.text.slice(0, 33) + "…" : n.text,
      w = c.measureText(text).width;
    const at = Math.min(x + 4 * px, u.bbox.left + u.bbox.width - w);
    let row = ends.findIndex((end) => end < at);
    if (row < 0) row = ends.length;
    if (row > 3) continue; // the list beside the chart has them all
    ends[row] = at + w + 8 * px;
    const y = u.bbox.top + (14 + 16 * row) * px;
    c.save();
    c.fillStyle = color("--paper");
    c.globalAlpha = 0.85;
    c.fillRect(at - 2 * px, y - 12 * px, w + 4 * px, 16 * px);
    c.restore();
    c.fillText(text, at, y);
  }
  c.restore();
}

// On touch all of it comes back.
document.addEventListener("click", (e) => {
  const whole = e.target.closest("[data-whole]");
  if (!whole) return;
  whole.hidden = true;
  asking?.abort();
  if (first) show(first);
  const d = first ?? { from: drawn[0].data[0][0], to: drawn[0].data[0].at(-1) };
  drawn.forEach((u) => u.setScale("x", { min: d.from, max: d.to }));
});
