// Changes: each says what its page shows; those that cannot be sent wait in this browser; and the page follows what
// other devices change.
import { $ } from "./dom.js";

// Every change says what this page shows, so that none lands in a version it does not show.
const self = crypto.getRandomValues(new Uint32Array(2)).join("");
const seen = () => {
  const v = $("#revision");
  return v ? `${v.dataset.version}.${v.value}.${self}` : "";
};
document.addEventListener("htmx:config:request", (e) => {
  if (seen()) e.detail.ctx.request.headers["X-Seen"] = seen();
});

// Edits that could not be sent wait in this browser, are seen waiting, and are sent
// when the workshop answers again; the last one to a field counts.
const shelf = "ember-waiting";
const waiting = () => {
  try {
    return JSON.parse(localStorage.getItem(shelf)) || [];
  } catch {
    return [];
  }
};
const lay = (list) => {
  localStorage.setItem(shelf, JSON.stringify(list));
  tell();
};
export function tell() {
  const list = waiting(),
    bar = $("#waiting");
  if (!bar) return;
  bar.hidden = list.length === 0;
  const what = bar.querySelector("[data-what]");
  const refused = list.filter((x) => x.refused),
    open = list.filter((x) => !x.refused);
  const texts = refused.map((x) => `${x.label} was not changed: ${x.refused}`);
  if (open.length)
    texts.push(
      `${open.length === 1 ? "One change waits" : open.length + " changes wait"} to be sent: ${open.map((x) => x.label).join(", ")}.`,
    );
  if (what) what.textContent = texts.join(" ");
  bar.querySelector("[data-drop-refused]").hidden = refused.length === 0;
  bar.querySelector("[data-pair]").hidden = !lapsed;
}
document.addEventListener("htmx:error", (e) => {
  if (e.detail.error instanceof TypeError) shelve(e.detail.ctx?.request);
});
// A device whose connection lapsed is answered 401: its change waits until it is connected again.
document.addEventListener("htmx:response:error", (e) => {
  if (e.detail.ctx?.response?.status !== 401) return;
  lapsed = true;
  shelve(e.detail.ctx.request);
});
let lapsed = false;
function shelve(r) {
  if (!r || r.method !== "POST" || !/\/h\/\d+\/edit$/.test(new URL(r.action, location.href).pathname)) return;
  const body = [...new URLSearchParams(r.body instanceof FormData ? [...r.body] : r.body)];
  const path = (body.find(([k]) => k === "path") || ["", "?"])[1];
  const field = document.getElementById("f-" + path.replaceAll(".", "-"));
  const label = field ? document.querySelector(`label[for="${field.id}"]`)?.textContent || path : path;
  lay([
    ...waiting().filter((x) => x.action !== r.action || x.path !== path),
    { action: r.action, path, label, body, seen: r.headers["X-Seen"] || seen() },
  ]);
}
let sending = false;
// A refused change stays with its reason until it is sent again by hand or discarded.
export async function send(again) {
  if (sending || !waiting().some((x) => again || !x.refused)) return;
  sending = true;
  let sent = 0;
  try {
    const token = JSON.parse(document.body.getAttribute("hx-headers:inherited") || "{}");
    for (const x of waiting()) {
      if (x.refused && !again) continue;
      const r = await fetch(x.action, {
        method: "POST",
        credentials: "same-origin",
        headers: { ...token, "HX-Request": "true", "X-Seen": x.seen || "" },
        body: new URLSearchParams(x.body),
      });
      if (r.status === 401) lapsed = true;
      if (r.status >= 500 || r.status === 401) break;
      lapsed = false;
      const why = r.headers.get("X-Refused"),
        same = (y) => y.action === x.action && y.path === x.path;
      if (r.ok && why === null) {
        lay(waiting().filter((y) => !same(y)));
        sent++;
        continue;
      }
      const refused = why === null ? `the workshop answered ${r.status}.` : decodeURIComponent(why.replaceAll("+", " "));
      lay(waiting().map((y) => (same(y) ? { ...y, refused } : y)));
    }
  } catch {
    /* still away */
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
setInterval(() => send(), 5000);

// Another device may change this heater meanwhile: then the page follows, once it has seen twice
// that it is behind and nothing of its own is on the way.
let behind = "",
  asked = 0,
  under = 0;
document.addEventListener("htmx:before:request", () => {
  asked = performance.now();
  under++;
});
document.addEventListener("htmx:finally:request", () => {
  asked = performance.now();
  under = Math.max(0, under - 1);
});
setInterval(async () => {
  const v = $("#revision"),
    work = $("#work");
  if (
    !v ||
    !work ||
    !work.dataset.since ||
    document.visibilityState !== "visible" ||
    waiting().some((x) => !x.refused) ||
    under > 0 ||
    document.querySelector("dialog[open], .job")
  )
    return;
  const at = v.value,
    from = asked;
  try {
    const r = await fetch(`${work.dataset.since}?revision=${at}&version=${v.dataset.version}`, { credentials: "same-origin" });
    const now = $("#revision");
    if (r.status !== 200 || !now || now.value !== at || asked !== from || performance.now() - asked < 3000) {
      behind = "";
      return;
    }
    if (document.activeElement?.matches("textarea, input[type=text], input:not([type])")) return;
    if (behind === at) location.reload();
    else behind = at;
  } catch {
    /* away */
  }
}, 5000);
