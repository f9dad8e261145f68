// What the pages need beyond htmx. Each module minds one thing; this one starts them.
import { $ } from "./dom.js";
import { tell, send } from "./changes.js";
import { charts } from "./charts.js";
import { keepOpen } from "./forms.js";
import { settle } from "./sheet.js";
import { opened } from "./working.js";
import "./horizon.js";
import "./keys.js";
import "./route.js";
import "./watch.js";

document.addEventListener("htmx:after:swap", () => {
  opened();
  settle();
  keepOpen();
  charts();
});

// On a phone the list of stations is a strip: the current station comes into view, without scrolling the page.
function showStation() {
  const stations = $("#stations"),
    here = $("#stations [aria-current=page]");
  if (!here) return;
  const l = stations.getBoundingClientRect(),
    h = here.getBoundingClientRect();
  stations.scrollBy({
    left: h.left - l.left - (l.width - h.width) / 2,
    top: h.bottom > l.bottom || h.top < l.top ? h.top - l.top : 0,
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
