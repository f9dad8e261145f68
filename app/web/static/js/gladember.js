(() => {
  // js/dom.js
  var $ = (selector, root = document) => root.querySelector(selector);
  var all = (selector, f, root = document) => root.querySelectorAll(selector).forEach(f);
  var color = (name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

  // js/changes.js
  var self = crypto.getRandomValues(new Uint32Array(2)).join("");
  var seen = () => {
    const v = $("#revision");
    return v ? `${v.dataset.version}.${v.value}.${self}` : "";
  };
  var number = () => crypto.getRandomValues(new Uint32Array(3)).join("-");
  document.addEventListener("htmx:config:request", (e) => {
    const { request: r, sourceElement } = e.detail.ctx;
    if (seen()) r.headers["X-Seen"] = seen();
    if (r.method === "POST" && sourceElement?.closest("[data-waits]")) r.headers["X-Change"] = number();
  });
  var shelf = "ember-waiting";
  var waiting = () => {
    try {
      return JSON.parse(localStorage.getItem(shelf)) || [];
    } catch {
      return [];
    }
  };
  var lay = (list) => {
    localStorage.setItem(shelf, JSON.stringify(list));
    tell();
  };
  function tell() {
    const list = waiting(), bar = $("#waiting");
    if (!bar) return;
    bar.hidden = list.length === 0;
    const what = bar.querySelector("[data-what]");
    const refused = list.filter((x) => x.refused), open2 = list.filter((x) => !x.refused);
    const texts = refused.map((x) => `${x.label} was not saved: ${x.refused}`);
    if (open2.length)
      texts.push(
        `${open2.length === 1 ? "One change waits" : open2.length + " changes wait"} to be sent: ${open2.map((x) => x.label).join(", ")}.`
      );
    if (what) what.textContent = texts.join(" ");
    bar.querySelector("[data-drop-refused]").hidden = refused.length === 0;
    bar.querySelector("[data-pair]").hidden = !lapsed;
  }
  document.addEventListener("htmx:error", (e) => {
    const { error, ctx } = e.detail;
    if (!(error instanceof TypeError) || !ctx?.request || shelve(ctx) || ctx.request.method !== "POST") return;
    const notice = $("#notice");
    if (notice) notice.textContent = "The workshop does not answer. Try again when it does.";
  });
  document.addEventListener("htmx:response:error", (e) => {
    if (e.detail.ctx?.response?.status !== 401) return;
    lapsed = true;
    shelve(e.detail.ctx);
  });
  var lapsed = false;
  function shelve(ctx) {
    const r = ctx.request, own = ctx.sourceElement?.closest("[data-waits]");
    const edit = /\/h\/\d+\/edit$/.test(new URL(r.action, location.href).pathname);
    if (r.method !== "POST" || !edit && !own) return false;
    const body = [...new URLSearchParams(r.body instanceof FormData ? [...r.body] : r.body)];
    const id = r.headers["X-Change"] || number();
    let path, label;
    if (edit) {
      path = (body.find(([k]) => k === "path") || ["", "?"])[1];
      const field = document.getElementById("f-" + path.replaceAll(".", "-"));
      label = field && document.querySelector(`label[for="${field.id}"]`)?.textContent || path;
    } else {
      label = own.dataset.waits;
      path = "each" in own.dataset ? id : label;
    }
    const heater = (action) => action.match(/\/h\/\d+/)?.[0];
    lay([
      ...waiting().filter((x) => x.path !== path || heater(x.action) !== heater(r.action)),
      { action: r.action, path, label, body, id, seen: r.headers["X-Seen"] || seen() }
    ]);
    return true;
  }
  document.addEventListener("submit", async (e) => {
    const f = e.target;
    if (!f.matches("form[data-waits]:not([hx-post])")) return;
    e.preventDefault();
    let status = 0;
    try {
      const since = f.getAttribute("action").match(/^\/h\/\d+/)[0] + "/since";
      status = (await fetch(since, { credentials: "same-origin", headers: { "HX-Request": "true" } })).status;
    } catch {
    }
    if (status === 401) lapsed = true;
    const body = new FormData(f, e.submitter);
    if (status === 0 || status === 401) {
      shelve({ sourceElement: f, request: { method: "POST", action: f.getAttribute("action"), body, headers: {} } });
      return;
    }
    if (e.submitter?.name) {
      const pressed = { type: "hidden", name: e.submitter.name, value: e.submitter.value };
      f.append(Object.assign(document.createElement("input"), pressed));
    }
    f.submit();
  });
  var sending = false;
  async function send(again2) {
    if (sending || !waiting().some((x) => again2 || !x.refused)) return;
    sending = true;
    let sent = 0;
    try {
      const token = JSON.parse(document.body.getAttribute("hx-headers:inherited") || "{}");
      for (const x of waiting()) {
        if (x.refused && !again2) continue;
        const r = await fetch(x.action, {
          method: "POST",
          credentials: "same-origin",
          headers: { ...token, "HX-Request": "true", "X-Seen": x.seen || "", "X-Change": x.id || "" },
          body: new URLSearchParams(x.body)
        });
        if (r.status === 401) lapsed = true;
        if (r.status >= 500 || r.status === 401) break;
        lapsed = false;
        const why = r.headers.get("X-Refused"), same = (y) => y.action === x.action && y.path === x.path;
        if (r.ok && why === null) {
          lay(waiting().filter((y) => !same(y)));
          if (r.status !== 204) sent++;
          continue;
        }
        const refused = why === null ? `the workshop answered ${r.status}.` : decodeURIComponent(why.replaceAll("+", " "));
        lay(waiting().map((y) => same(y) ? { ...y, refused } : y));
      }
    } catch {
    }
    sending = false;
    tell();
    if (sent && waiting().every((x) => x.refused)) location.reload();
  }
  window.addEventListener("online", () => send());
  document.addEventListener("click", (e) => {
    if (e.target.closest("[data-send-now]")) send(true);
    if (e.target.closest("[data-drop-refused]")) lay(waiting().filter((x) => !x.refused));
  });
  setInterval(() => send(), 5e3);
  var behind = "";
  var asked = 0;
  var under = 0;
  document.addEventListener("htmx:before:request", () => {
    asked = performance.now();
    under++;
  });
  document.addEventListener("htmx:finally:request", () => {
    asked = performance.now();
    under = Math.max(0, under - 1);
  });
  setInterval(async () => {
    const v = $("#revision"), work = $("#work");
    if (!v || !work || !work.dataset.since || document.visibilityState !== "visible" || waiting().some((x) => !x.refused) || under > 0 || document.querySelector("dialog[open], .job"))
      return;
    const at = v.value, from = asked;
    try {
      const r = await fetch(`${work.dataset.since}?revision=${at}&version=${v.dataset.version}`, { credentials: "same-origin" });
      const now = $("#revision");
      if (r.status !== 200 || !now || now.value !== at || asked !== from || performance.now() - asked < 3e3) {
        behind = "";
        return;
      }
      if (document.activeElement?.matches("textarea, input[type=text], input:not([type])")) return;
      if (behind === at) location.reload();
      else behind = at;
    } catch {
    }
  }, 5e3);

  // js/player.js
  var minute = -1;
  var running = 0;
  function played(d, drawn2) {
    const chart = drawn2[0];
    const bar = $("#minute"), p = d.play;
    const word = (v, unit) => v === null || v === void 0 ? "" : Math.round(v).toLocaleString(p.comma ? "de" : "en") + " " + unit;
    const all2 = (name, f) => document.querySelectorAll(`[data-play="${name}"]`).forEach(f);
    const say = (name, t) => all2(name, (e) => {
      e.textContent = t;
    });
    const see = (name, on) => all2(name, (e) => e.setAttribute("visibility", on ? "visible" : "hidden"));
    const clock = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit", timeZone: d.zone });
    const show2 = (i) => {
      minute = i;
      const a = p.profile[i] * Math.PI / 180, sun = d.sun[i], on = p.stages[i] > 0;
      all2("sun", (g) => {
        const cx = +g.dataset.cx, cy = +g.dataset.cy, r = +g.dataset.r;
        const dx = -Math.cos(a), dy = -Math.sin(a), lit = sun > 1 && p.profile[i] > 0;
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
      all2("plate", (e) => e.setAttribute("stroke-opacity", Math.max(0, Math.min(1, (p.plate[i] - 15) / 60)).toFixed(2)));
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
      const fan = p.fan ? on ? "fan on" : "fan off" : on ? "natural draft" : "no airflow";
      say("fan", fan);
      if (bar) {
        bar.value = i;
        bar.setAttribute(
          "aria-valuetext",
          clock.format(new Date(d.t[i] * 1e3)) + ", " + fan + (on ? ", out " + word(d.outlet[i], d.unit) : "")
        );
      }
      rules.forEach((r, k) => {
        r.style.left = drawn2[k].valToPos(d.t[i], "x") + "px";
      });
    };
    const last = d.t.length - 1;
    const rules = drawn2.map((u) => {
      const r = document.createElement("div");
      r.className = "now";
      u.over.append(r);
      return r;
    });
    chart.hooks.setScale = [...chart.hooks.setScale || [], () => show2(minute)];
    show2(minute >= 0 && minute <= last ? minute : Math.floor(last / 2));
    if (bar)
      bar.addEventListener("input", () => {
        stop();
        show2(+bar.value);
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
        let from = performance.now(), at = minute;
        const frame = (now) => {
          if (!button.isConnected) {
            running = 0;
            return;
          }
          at += (now - from) * last / 2e4;
          from = now;
          show2(Math.min(last, Math.floor(at)));
          if (at >= last) stop();
          else running = requestAnimationFrame(frame);
        };
        running = requestAnimationFrame(frame);
      });
    if (p.on !== null) handles(d, chart);
  }
  var held = "";
  function handles(d, chart) {
    const at = { close: d.play.on, open: d.play.off };
    document.querySelectorAll("[data-point]").forEach((h) => {
      const point = h.dataset.point, field = $(`#f-switch-${point}_c`);
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
        const from = e.clientY, was = at[point], per = chart.posToVal(0, "y") - chart.posToVal(1, "y");
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
          { once: true }
        );
      });
      chart.hooks.setSize = [...chart.hooks.setSize || [], place];
    });
  }

  // js/charts.js
  var drawn = [];
  var shown = null;
  var first = null;
  var asking = null;
  async function charts() {
    const box = $("#chart");
    if (!box || box.dataset.drawn) return;
    box.dataset.drawn = "1";
    const r = await fetch(box.dataset.url, { credentials: "same-origin" }).catch(() => null);
    if (!r) return;
    if (!r.ok) {
      box.textContent = "The readings could not be loaded; load the page again.";
      return;
    }
    const d = await r.json();
    const ink = color("--ink"), rule = color("--rule");
    const face = "12px 'Spline Sans Mono', monospace";
    const tz = (ts) => uPlot.tzDate(new Date(ts * 1e3), d.zone);
    const axis = (extra) => ({
      stroke: ink,
      font: face,
      grid: { stroke: rule, width: 1 },
      ticks: { stroke: ink, width: 1, size: 5 },
      ...extra
    });
    const shade = (u) => {
      const now = shown ?? d;
      const c = u.ctx, y = u.bbox.top, h = u.bbox.height;
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
        const from = Math.max(u.bbox.left, u.valToPos(a, "x", true)), to = Math.min(u.bbox.left + u.bbox.width, u.valToPos(b, "x", true));
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
    const time = (u, splits, _axis, _space, step) => {
      const long = u.scales.x.max - u.scales.x.min > 30 * 3600;
      return splits.map((s) => {
        const t = tz(s);
        const day = t.getDate() + " " + months[t.getMonth()];
        if (step >= 27 * 86400) return months[t.getMonth()] + " " + t.getFullYear();
        if (step >= 86400 || long && t.getHours() === 0 && t.getMinutes() === 0) return day;
        return two(t.getHours()) + ":" + two(t.getMinutes());
      });
    };
    const reach = (f, v) => d.play && d.play.on !== null ? f(v, d.play.on, d.play.off) : v;
    const common = (el, height) => ({
      width: el.clientWidth,
      height,
      tzDate: tz,
      ms: 1e-3,
      padding: [null, 32, null, null],
      cursor: { sync: { key: "day" }, drag: { x: true, y: false } },
      legend: { show: false },
      hooks: { drawClear: [shade], setSelect: [(u) => closer(u, tz)], setCursor: [(u) => readout(u, d, tz)] }
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
            ...d.low ? [edge, edge, { stroke: color("--ember"), width: 1.8, dash: [9, 3, 2, 3] }] : []
          ],
          bands: d.low ? [{ series: [6, 5], fill: ink + "1f" }] : []
        },
        lines(d),
        box
      )
    ];
    if (d.notes?.length) drawn[0].hooks.draw = [(u) => pin(u, face, ink)];
    const low = $("#sunchart");
    if (low && d.sunIs) {
      drawn.push(
        new uPlot(
          {
            ...common(low, 110),
            axes: [axis({ values: time, space: 64 }), axis({ size: 54, splits: () => [0, 500, 1e3] })],
            scales: { y: { range: (u, lo, hi) => [0, Math.max(1e3, hi * 1.05)] } },
            series: [
              {},
              { stroke: color("--sun"), width: 2, fill: color("--sun") + "44", dash: d.sunIs === "measured" ? [] : [6, 4] }
            ]
          },
          [d.t, d.sun],
          low
        )
      );
    }
    new ResizeObserver(
      () => drawn.forEach((u) => {
        const w = u.root.parentElement.clientWidth;
        if (w && w !== u.width) u.setSize({ width: w, height: u.height });
      })
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
  var lines = (d) => [d.t, d.inlet, d.outlet, d.outdoor, d.expected].concat(d.low ? [d.low, d.high, d.beside ?? d.t.map(() => null)] : []);
  function local(t) {
    const two = (n) => String(n).padStart(2, "0");
    return `${t.getFullYear()}-${two(t.getMonth() + 1)}-${two(t.getDate())}T${two(t.getHours())}:${two(t.getMinutes())}`;
  }
  function closer(u, tz) {
    if (u.select.width < 3) return;
    const a = u.posToVal(u.select.left, "x"), b = u.posToVal(u.select.left + u.select.width, "x");
    const from = $("#span-from"), to = $("#span-to");
    if (from && to) {
      from.value = local(tz(a));
      to.value = local(tz(b));
    }
    const whole = $("[data-whole]");
    if (whole) whole.hidden = false;
    if (shown?.step) load(Math.floor(a), Math.ceil(b));
  }
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
  function readout(u, _d, tz) {
    const out = $("#readout"), i = u.cursor.idx;
    if (!out || i == null || !shown) return;
    const t = tz(shown.t[i]);
    const said = [local(t).slice(11)];
    for (const [name, v] of [
      ["outlet", shown.outlet[i]],
      ["inlet", shown.inlet[i]],
      ["outdoors", shown.outdoor[i]]
    ])
      if (v != null) said.push(`${name} ${v.toFixed(1)} ${shown.unit}`);
    if (shown.sun[i] != null && shown.sunIs) said.push(`sun ${shown.sun[i]} ${shown.irradiance}`);
    out.textContent = said.join(", ");
  }
  function pin(u, face, ink) {
    const c = u.ctx, px = devicePixelRatio;
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
      const text = n.text.length > 34 ? n.text.slice(0, 33) + "\u2026" : n.text, w = c.measureText(text).width;
      const at = Math.min(x + 4 * px, u.bbox.left + u.bbox.width - w);
      let row = ends.findIndex((end) => end < at);
      if (row < 0) row = ends.length;
      if (row > 3) continue;
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
  document.addEventListener("click", (e) => {
    const whole = e.target.closest("[data-whole]");
    if (!whole) return;
    whole.hidden = true;
    asking?.abort();
    if (first) show(first);
    const d = first ?? { from: drawn[0].data[0][0], to: drawn[0].data[0].at(-1) };
    drawn.forEach((u) => u.setScale("x", { min: d.from, max: d.to }));
  });

  // js/forms.js
  document.addEventListener("change", (e) => {
    if (e.target.matches("input[type=file][data-send]") && e.target.files.length) e.target.form.requestSubmit();
  });
  document.addEventListener(
    "stocked",
    () => setTimeout(() => {
      const form = $(".thing-form");
      if (!form) return;
      form.reset();
      if (!$("#thing-error")) $("#thing-size").focus();
    }, 30)
  );
  var shelf2 = "ember-open";
  var kept = () => {
    try {
      return JSON.parse(sessionStorage.getItem(shelf2)) || {};
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
      }
      sessionStorage.setItem(shelf2, JSON.stringify({ ...kept(), [e.target.id]: e.target.open }));
    },
    true
  );
  function keepOpen() {
    const state = kept();
    all("details[data-keep-open]", (d) => {
      const wanted = state[d.id] ?? d.open;
      if (d.open === wanted || $(".msg", d)) return;
      d.dataset.set = String(wanted);
      d.open = wanted;
    });
  }

  // js/sheet.js
  var again = () => htmx.trigger($("#facts"), "facts");
  function settle() {
    all(".guesses select", (s) => {
      const chosen = $("option[selected]", s);
      if (chosen) s.value = chosen.value;
    });
  }
  function pickTown(button) {
    $("#town_id").value = button.dataset.town;
    $("#town").value = button.dataset.label;
    $("#town-list").replaceChildren();
    again();
  }
  function walkTowns(e) {
    const field = e.target.closest("#town"), here = e.target.closest("#town-list button");
    if (!field && !here) return;
    const list = [...document.querySelectorAll("#town-list button")], at = list.indexOf(here);
    if (e.key === "ArrowDown" && list[at + 1]) list[at + 1].focus();
    else if (e.key === "ArrowUp" && here) (list[at - 1] || $("#town")).focus();
    else if (e.key === "Escape" && here) $("#town").focus();
    else if (e.key === "Enter" && field && list.length === 1) list[0].click();
    else if (e.key === "Enter" && field && list.length > 1) list[0].focus();
    else return;
    e.preventDefault();
  }
  document.addEventListener("keydown", walkTowns);
  function fix(id) {
    const input = document.createElement("input");
    input.type = "hidden";
    input.name = "mend";
    input.value = id;
    $("#sheet").append(input);
    again();
  }
  function unfix(id) {
    all("#sheet input[name=mend]", (i) => {
      if (i.value === id) i.remove();
    });
    again();
  }
  document.addEventListener("click", (e) => {
    const town = e.target.closest("[data-town]"), mend = e.target.closest("[data-mend]"), unmend = e.target.closest("[data-unmend]");
    if (town) pickTown(town);
    if (mend) fix(mend.dataset.mend);
    if (unmend) unfix(unmend.dataset.unmend);
  });
  document.addEventListener(
    "change",
    (e) => {
      if (e.target.dataset.name) e.target.name = e.target.dataset.name;
    },
    true
  );
  document.addEventListener("input", (e) => {
    if (e.target.id === "fan") again();
    if (e.target.id === "town" && $("#town_id")) $("#town_id").value = "";
  });

  // js/working.js
  var dialog = () => $("#working");
  function opened() {
    const d = dialog();
    if (d && d.dataset.fresh !== void 0 && d.firstElementChild && !d.open) d.showModal();
  }
  document.addEventListener("click", (e) => {
    const d = dialog();
    if (e.target.closest("[data-working]") && d) d.dataset.fresh = "";
    if (e.target.closest("[data-close]") || d && e.target === d) {
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
    true
  );

  // js/horizon.js
  var drawing = "";
  document.addEventListener("click", (e) => {
    const b = e.target.closest("[data-draw]");
    if (!b) return;
    drawing = drawing === b.dataset.draw ? "" : b.dataset.draw;
    document.querySelectorAll("[data-draw]").forEach((x) => x.setAttribute("aria-pressed", x.dataset.draw === drawing));
    const hint = $("#draw-hint");
    if (hint)
      hint.textContent = drawing ? "drag over the sky from one end to the other, as high as it stands; or enter it under \u201CShade\u201D" : "";
    const h = $("#horizon");
    if (h) h.classList.toggle("drawing", drawing !== "");
  });
  document.addEventListener("pointerdown", (e) => {
    const svg = drawing && e.target.closest("#horizon svg.tracks");
    if (!svg) return;
    e.preventDefault();
    const k = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width, g = (n) => +svg.dataset[n];
    const at = (m) => {
      const r = svg.getBoundingClientRect();
      return [
        Math.max(g("left"), Math.min(g("right"), (m.clientX - r.left) * k)),
        Math.max(g("top"), Math.min(g("base"), (m.clientY - r.top) * k))
      ];
    };
    const az = (x) => Math.round((g("center") + (x - g("left")) / (g("right") - g("left")) * 260 - 130 + 720) % 360);
    const high = (y) => Math.round((g("base") - y) / (g("base") - g("top")) * g("high"));
    const [x0] = at(e), hint = $("#draw-hint");
    let x1 = x0, y1 = g("base");
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
      if (hint) hint.textContent = `${az(Math.min(x0, x1))}\xB0 to ${az(Math.max(x0, x1))}\xB0, ${high(y1)}\xB0 high`;
    };
    svg.addEventListener("pointermove", move);
    svg.addEventListener(
      "pointerup",
      () => {
        svg.removeEventListener("pointermove", move);
        rect.remove();
        const field = $("#f-shade-horizon");
        if (!field || Math.abs(x1 - x0) < 4 || high(y1) < 1) return;
        field.value = field.value.trim() + `
${az(Math.min(x0, x1))} to ${az(Math.max(x0, x1))}: ${high(y1)}, ${drawing}`;
        field.dispatchEvent(new Event("change", { bubbles: true }));
      },
      { once: true }
    );
  });

  // js/keys.js
  var typing = (e) => e.target.matches("input, select, textarea");
  document.addEventListener("keydown", (e) => {
    if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "z" || typing(e)) return;
    const button = $(e.shiftKey ? "#redo" : "#undo");
    if (!button || button.disabled) return;
    e.preventDefault();
    button.click();
  });
  function open(element) {
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
  document.addEventListener(
    "click",
    (e) => {
      const link = e.target.closest("a");
      const href = link && (link.getAttribute("href") || "");
      if (href && href.startsWith("#f-")) open(document.getElementById(href.slice(1)));
    },
    true
  );

  // js/route.js
  var dragged = false;
  document.addEventListener(
    "click",
    (e) => {
      if (dragged && e.target.closest("#air-route")) {
        e.preventDefault();
        dragged = false;
      }
    },
    true
  );
  document.addEventListener("pointerdown", (e) => {
    const piece = e.target.closest("#air-route [data-piece], #air-route [data-fan]");
    if (!piece) return;
    e.preventDefault();
    const svg = piece.closest("svg"), mid = svg.querySelector("[data-mid]");
    const middle = mid.getBoundingClientRect().left, from = e.clientX;
    dragged = false;
    const move = (m) => {
      dragged = dragged || Math.abs(m.clientX - from) > 6;
      piece.setAttribute(
        "transform",
        `translate(${(m.clientX - from) * svg.viewBox.baseVal.width / svg.getBoundingClientRect().width} 0)`
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
        const all2 = +document.getElementById(field.id.replace("_before", "")).value, by = piece.dataset.side === "before" ? -1 : 1;
        field.value = Math.max(0, Math.min(all2, +field.value + by));
        field.dispatchEvent(new Event("input", { bubbles: true }));
      },
      { once: true }
    );
  });

  // js/watch.js
  var running2 = /* @__PURE__ */ new Map();
  document.addEventListener("click", (e) => {
    const button = e.target.closest("[data-watch]");
    if (!button) return;
    const what = button.dataset.watch;
    const on = running2.get(what);
    if (!on) {
      const from = performance.now();
      const tick = setInterval(() => {
        button.textContent = `Stop: ${((performance.now() - from) / 1e3).toFixed(1)} s`;
      }, 100);
      running2.set(what, { from, tick });
      return;
    }
    clearInterval(on.tick);
    running2.delete(what);
    button.textContent = "Start the watch";
    const fields = [...document.querySelectorAll(`#ask-${what} input`)];
    const free = fields.find((f) => !f.value) ?? fields.at(-1);
    if (!free) return;
    free.value = ((performance.now() - on.from) / 1e3).toFixed(1) + " s";
    free.dispatchEvent(new Event("input", { bubbles: true }));
    $("#verdict")?.scrollIntoView({ block: "nearest" });
  });

  // js/main.js
  document.addEventListener("htmx:after:swap", () => {
    opened();
    settle();
    keepOpen();
    charts();
  });
  function showStation() {
    const stations = $("#stations"), here = $("#stations [aria-current=page]");
    if (!here) return;
    const l = stations.getBoundingClientRect(), h = here.getBoundingClientRect();
    stations.scrollBy({
      left: h.left - l.left - (l.width - h.width) / 2,
      top: h.bottom > l.bottom || h.top < l.top ? h.top - l.top : 0
    });
  }
  function begin() {
    tell();
    send();
    keepOpen();
    charts();
    showStation();
  }
  if (document.readyState === "loading") document.addEventListener("DOMContentLoaded", begin);
  else begin();
})();
