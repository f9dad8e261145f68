// Changes: each says what its page shows; those that cannot be sent wait in this browser; and the page follows what
// other devices change.
import { $ } from "./dom.js";

// Every change says what this page shows, so that none lands in a version it does not show.
const self = crypto.getRandomValues(new Uint32Array(2)).join("");
const seen = () => {
  const v = $("#revision");
  return v ? `${v.dataset.version}.${v.value}.${self}` : "";
};
// The number of a change that can wait lets the workshop tell one that is sent again from a new one.
const number = () => crypto.getRandomValues(new Uint32Array(3)).join("-");
document.addEventListener("htmx:config:request", (e) => {
  const { request: r, sourceElement } = e.detail.ctx;
  if (seen()) r.headers["X-Seen"] = seen();
  if (r.method === "POST" && sourceElement?.closest("[data-waits]")) r.headers["X-Change"] = number();
});

// Edits that could not be sent, and other changes whose element says so with data-waits, wait in this browser, are seen
// waiting, and are sent when the workshop answers again. The last one to a field counts; of those with data-each, each.
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
  const texts = refused.map((x) => `${x.label} was not saved: ${x.refused}`);
  if (open.length)
    texts.push(
      `${open.length === 1 ? "One change waits" : open.length + " changes wait"} to be sent: ${open.map((x) => x.label).join(", ")}.`,
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
// A device whose connection lapsed is answered 401: its change waits until it is connected again.
document.addEventListener("htmx:response:error", (e) => {
  if (e.detail.ctx?.response?.status !== 401) return;
  lapsed = true;
  shelve(e.detail.ctx);
});
let lapsed = false;
// shelve keeps a change, and says whether it is one that can wait.
function shelve(ctx) {
  const r = ctx.request,
    own = ctx.sourceElement?.closest("[data-waits]");
  const edit = /\/h\/\d+\/edit$/.test(new URL(r.action, location.href).pathname);
  if (r.method !== "POST" || (!edit && !own)) return false;
  const body = [...new URLSearchParams(r.body instanceof FormData ? [...r.body] : r.body)];
  const id = r.headers["X-Change"] || number();
  let path, label;
  if (edit) {
    path = (body.find(([k]) => k === "path") || ["", "?"])[1];
    const field = document.getElementById("f-" + path.replaceAll(".", "-"));
    label = (field && document.querySelector(`label[for="${field.id}"]`)?.textContent) || path;
  } else {
    label = own.dataset.waits;
    path = "each" in own.dataset ? id : label;
  }
  const heater = (action) => action.match(/\/h\/\d+/)?.[0];
  lay([
    ...waiting().filter((x) => x.path !== path || heater(x.action) !== heater(r.action)),
    { action: r.action, path, label, body, id, seen: r.headers["X-Seen"] || seen() },
  ]);
  return true;
}
// A form that loads another page is sent once it is known that the workshop answers.
document.addEventListener("submit", async (e) => {
  const f = e.target;
  if (!f.matches("form[data-waits]:not([hx-post])")) return;
  e.preventDefault();
  let status = 0;
  try {
    const since = f.getAttribute("action").match(/^\/h\/\d+/)[0] + "/since";
    status = (await fetch(since, { credentials: "same-origin", headers: { "HX-Request": "true" } })).status;
  } catch {
    /* away */
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
        headers: { ...token, "HX-Request": "true", "X-Seen": x.seen || "", "X-Change": x.id || "" },
        body: new URLSearchParams(x.body),
      });
      if (r.status === 401) lapsed = true;
      if (r.status >= 500 || r.status === 401) break;
      lapsed = false;
      const why = r.headers.get("X-Refused"),
        same = (y) => y.action === x.action && y.path === x.path;
      if (r.ok && why === null) {
        lay(waiting().filter((y) => !same(y)));
        if (r.status !== 204) sent++; // else it was made before, and only its answer was lost: the page shows it
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
